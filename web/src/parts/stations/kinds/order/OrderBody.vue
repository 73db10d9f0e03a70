<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'

/** The causes in question, and the tests to be put in order with buttons. */
const props = defineProps<BodyProps<'order'>>()
const emit = defineEmits<{ change: [answer: Schemas['OrderAnswer']] }>()
const { t } = useI18n()
const placed = computed(() =>
  (props.answer.order ?? []).flatMap((id) => props.view.tests.filter((test) => test.id === id)),
)
const waiting = computed(() => props.view.tests.filter((test) => !props.answer.order?.includes(test.id)))

function take(id: string) {
  emit('change', { ...props.answer, order: [...(props.answer.order ?? []), id] })
}
function back(id: string) {
  emit('change', { ...props.answer, order: (props.answer.order ?? []).filter((entry) => entry !== id) })
}
function up(k: number) {
  const order = [...(props.answer.order ?? [])]
  order.splice(k - 1, 0, ...order.splice(k, 1))
  emit('change', { ...props.answer, order })
}
</script>

<template>
  <div>
    <span class="label">{{ t('stations.order.either') }}</span>
    <ul class="causes">
      <li v-for="cause in view.causes" :key="cause">
        <b>{{ cause }}</b>
      </li>
    </ul>
    <fieldset :disabled="disabled">
      <legend class="label">{{ t('stations.order.mine') }}</legend>
      <p v-if="!placed.length" class="soft empty">{{ t('stations.order.none') }}</p>
      <ol class="tests" data-testid="order-placed">
        <li v-for="(test, k) in placed" :key="test.id">
          <span class="place">{{ k + 1 }}</span>
          <span class="name">{{ test.label }}</span>
          <span v-if="test.exchange" class="soft small">{{ t('stations.order.exchange') }}</span>
          <button
            type="button"
            :disabled="k === 0"
            :aria-label="t('stations.order.up', { test: test.label })"
            @click="up(k)"
          >
            ↑
          </button>
          <button type="button" :aria-label="t('stations.order.back', { test: test.label })" @click="back(test.id)">
            ×
          </button>
        </li>
      </ol>
      <template v-if="waiting.length">
        <span class="label">{{ t('stations.order.left') }}</span>
        <ul class="tests">
          <li v-for="test in waiting" :key="test.id">
            <button type="button" class="take" @click="take(test.id)">
              <span class="name">{{ test.label }}</span>
              <span class="soft small">
                {{ t('stations.order.minutes', { n: Math.round(test.minutes) }) }}
                <template v-if="test.exchange">· {{ t('stations.order.exchange') }}</template>
              </span>
            </button>
          </li>
        </ul>
      </template>
    </fieldset>
  </div>
</template>

<style scoped>
.causes {
  margin: 2px 0 var(--space-3);
  padding-left: 18px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  max-width: 640px;
}
.empty {
  margin: 4px 0;
}
.tests {
  list-style: none;
  margin: 0 0 var(--space-3);
  padding: 0;
}
.tests li {
  display: flex;
  align-items: baseline;
  gap: 9px;
  border-top: 1px solid var(--rule);
}
ol.tests li {
  padding: 6px 8px;
  background: var(--surface-strong);
}
.place {
  font-weight: 600;
  min-width: 16px;
}
.name {
  flex: 1;
}
ol.tests button {
  border: 0;
  background: none;
  color: var(--text);
  cursor: pointer;
  padding: 0 6px;
}
ol.tests button:disabled {
  color: var(--edge);
  cursor: default;
}
.take {
  display: flex;
  flex: 1;
  gap: 9px;
  align-items: baseline;
  border: 0;
  background: none;
  color: var(--text);
  text-align: left;
  padding: 7px 8px;
  cursor: pointer;
}
.take:hover {
  background: var(--surface-strong);
}
</style>
