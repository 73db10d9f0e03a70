<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { useCatalogue } from '@/api/catalogue'
import { unitWithReference } from '@/format/units'
import HeedFirst from '@/parts/stations/HeedFirst.vue'
import type { BodyProps } from '@/parts/stations/kind'

/** What is to be read on the real engine: value with unit, and a verdict. */
const props = defineProps<BodyProps<'own'>>()
const emit = defineEmits<{ change: [answer: Schemas['OwnAnswer']] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()
const VERDICTS = ['good', 'suspect', 'faulty', 'not_decidable'] as const
const empty = { kind: 'own', value: '', verdict: '' } as const
function change(k: number, part: Partial<Schemas['OwnReading']>) {
  const readings = props.view.readings.map((_reading, j) => {
    const old = props.answer.readings?.[j] ?? empty
    return j === k ? { ...old, ...part } : old
  })
  emit('change', { ...props.answer, readings })
}
const hint = (quantity: string) =>
  t('stations.own.hint', { unit: unitWithReference(quantities.value.get(quantity), units.value) })
</script>

<template>
  <div>
    <HeedFirst
      v-if="view.cautions?.length"
      :texts="view.cautions"
      :heeded="answer.heeded === true"
      :disabled="disabled"
      @heed="(heeded) => emit('change', { ...answer, heeded })"
    />
    <p class="small soft">{{ t('stations.own.error', { n: view.error_percent }) }}</p>
    <fieldset v-for="(reading, k) in view.readings" :key="k" :disabled="disabled">
      <legend>
        <b>{{ reading.condition_label }}</b> {{ reading.label }}
      </legend>
      <input
        :value="answer.readings?.[k]?.value ?? ''"
        autocomplete="off"
        :aria-label="t('stations.own.value')"
        :placeholder="hint(reading.quantity)"
        @input="change(k, { value: ($event.target as HTMLInputElement).value })"
      />
      <label v-for="verdict in VERDICTS" :key="verdict" :class="{ on: answer.readings?.[k]?.verdict === verdict }">
        <input
          type="radio"
          :name="`${name}-${k}`"
          :value="verdict"
          :checked="answer.readings?.[k]?.verdict === verdict"
          @change="change(k, { verdict })"
        />
        {{ t(`verdict.${verdict}`) }}
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
fieldset {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  border: 0;
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 8px 0;
}
legend {
  float: left;
  width: 100%;
  padding: 6px 0 0;
}
fieldset > input {
  width: 180px;
  border: 1px solid var(--text-soft);
  background: var(--field);
  padding: 5px 8px;
}
label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  padding: 3px 9px;
  border: 1px solid var(--edge);
  cursor: pointer;
}
label.on {
  background: var(--surface-strong);
  font-weight: 600;
}
label input {
  accent-color: var(--accent);
}
</style>
