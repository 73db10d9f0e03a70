<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'
import SheetTable from './SheetTable.vue'
import SheetTraces from './SheetTraces.vue'
import { inside } from '@/parts/prose/inside'

type Verdict = Schemas['SheetVerdict']

/** The sheets beside each other; of each engine a verdict, and the reading that tells it. */
const props = defineProps<BodyProps<'sheet'>>()
const emit = defineEmits<{ change: [answer: Schemas['SheetAnswer']] }>()
const { t } = useI18n()
const SAID = ['sound', 'faulty'] as const

function change(k: number, part: Partial<Verdict>) {
  const engines = props.view.sheets.map((_sheet, j) => {
    const old = props.answer.engines?.[j] ?? { kind: 'sheet' as const, verdict: null, tells: null }
    return j === k ? { ...old, ...part } : old
  })
  emit('change', { ...props.answer, engines })
}
const readingEntry = (reading: { label: string; condition_label: string }, j: number) => ({
  value: String(j),
  label: `${reading.label}, ${inside(reading.condition_label)}`,
})
</script>

<template>
  <SheetTraces v-if="view.traces?.length" :traces="view.traces" />
  <SheetTable v-else :sheets="view.sheets" />
  <fieldset v-for="(sheet, k) in view.sheets" :key="k" :disabled="disabled">
    <legend>{{ t('stations.sheet.said', { n: k + 1 }) }}</legend>
    <label v-for="verdict in SAID" :key="verdict" :class="{ on: answer.engines?.[k]?.verdict === verdict }">
      <input
        type="radio"
        :name="`${name}-${k}`"
        :value="verdict"
        :checked="answer.engines?.[k]?.verdict === verdict"
        @change="change(k, { verdict })"
      />
      {{ t(`stations.sheet.${verdict}`) }}
    </label>
    <ChooseOne
      v-if="answer.engines?.[k]?.verdict !== 'sound'"
      :value="String(answer.engines?.[k]?.tells ?? '')"
      :entries="sheet.map(readingEntry)"
      :label="t('stations.sheet.by', { n: k + 1 })"
      :none="t('stations.sheet.choose')"
      :disabled="disabled"
      @choose="(chosen) => change(k, { tells: chosen === '' ? null : Number(chosen) })"
    />
  </fieldset>
  <template v-if="view.words">
    <label class="label" :for="`${name}-why`">{{ t('stations.sheet.why') }}</label>
    <textarea
      :id="`${name}-why`"
      rows="3"
      maxlength="2000"
      :value="answer.why ?? ''"
      :disabled="disabled"
      @input="emit('change', { ...answer, why: ($event.target as HTMLTextAreaElement).value })"
    ></textarea>
  </template>
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
  padding: 8px 0 0;
}
legend {
  float: left;
  font-weight: 600;
  min-width: 110px;
}
label:not(.label) {
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
select,
textarea {
  border: 1px solid var(--text-soft);
  background: var(--field);
  color: var(--text);
  padding: 5px 8px;
  max-width: 100%;
}
textarea {
  width: min(100%, 720px);
}
</style>
