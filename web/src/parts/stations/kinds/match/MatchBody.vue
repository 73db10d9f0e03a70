<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'
import { useReadings } from '@/parts/stations/readings'

/** Each place gets one of the values; a value that is placed is not offered twice. */
const props = defineProps<BodyProps<'match'>>()
const emit = defineEmits<{ change: [answer: Schemas['MatchAnswer']] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
const given = computed(() => props.view.places.map((_place, k) => props.answer.values?.[k] ?? null))
function offered(k: number) {
  const elsewhere = given.value.filter((_id, j) => j !== k)
  return props.view.values.filter((value) => !elsewhere.includes(value.id))
}
function place(k: number, event: Event) {
  const chosen = (event.target as HTMLSelectElement).value || null
  emit('change', { ...props.answer, values: given.value.map((id, j) => (j === k ? chosen : id)) })
}
</script>

<template>
  <div>
    <p class="loose">
      <span class="label">{{ t('stations.match.loose') }}</span>
      <span v-for="value in view.values" :key="value.id" class="value" :class="{ placed: given.includes(value.id) }">{{
        withUnit(value)
      }}</span>
    </p>
    <fieldset :disabled="disabled">
      <legend class="visually-hidden">{{ t('stations.match.name') }}</legend>
      <label v-for="(spot, k) in view.places" :key="k">
        <span class="where"
          ><b>{{ spot.condition_label }}</b> {{ spot.label }}</span
        >
        <select :value="given[k] ?? ''" @change="place(k, $event)">
          <option value="">{{ t('stations.match.choose') }}</option>
          <option v-for="value in offered(k)" :key="value.id" :value="value.id">{{ withUnit(value) }}</option>
        </select>
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.loose {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px;
  margin: 0 0 var(--space-3);
}
.value {
  border: 1px solid var(--edge);
  padding: 2px 9px;
  font-weight: 600;
  background: var(--field);
}
.value.placed {
  opacity: 0.45;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  max-width: 640px;
}
fieldset label {
  display: flex;
  gap: var(--space-3);
  align-items: baseline;
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
.where {
  flex: 1;
}
select {
  min-width: 150px;
}
</style>
