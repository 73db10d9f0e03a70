<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'

/** The two causes, and the tests to choose from. */
defineProps<BodyProps<'separate'>>()
const emit = defineEmits<{ change: [answer: Schemas['SeparateAnswer']] }>()
const { t } = useI18n()
</script>

<template>
  <div>
    <span class="label">{{ t('stations.separate.either') }}</span>
    <ul>
      <li v-for="cause in view.causes" :key="cause">
        <b>{{ cause }}</b>
      </li>
    </ul>
    <fieldset :disabled="disabled">
      <legend class="label">{{ t('stations.separate.choose') }}</legend>
      <label v-for="test in view.tests" :key="test.id" :class="{ on: answer.test === test.id }">
        <input
          type="radio"
          :name="`${name}-test`"
          :value="test.id"
          :checked="answer.test === test.id"
          @change="emit('change', { ...answer, test: test.id })"
        />
        <span>{{ test.label }}</span>
        <span class="soft small">{{ t('stations.separate.minutes', { n: Math.round(test.minutes) }) }}</span>
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
ul {
  margin: 2px 0 var(--space-3);
  padding-left: 18px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  max-width: 640px;
}
label {
  display: flex;
  gap: 9px;
  align-items: baseline;
  padding: 7px 8px;
  border-top: 1px solid var(--rule);
  cursor: pointer;
}
label.on {
  background: var(--surface-strong);
  font-weight: 600;
}
label .small {
  margin-left: auto;
  white-space: nowrap;
}
input {
  accent-color: var(--accent);
}
</style>
