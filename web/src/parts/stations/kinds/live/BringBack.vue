<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { unitWithReference } from '@/format/units'
import { inside } from '@/parts/prose/inside'

/** Fields for what is brought back from a running engine. `narrow`: beside the engine, in few lines. */
const props = defineProps<{
  view: Schemas['LiveView']
  answer: Schemas['LiveAnswer']
  name: string
  disabled?: boolean
  narrow?: boolean
}>()
const emit = defineEmits<{ change: [answer: Schemas['LiveAnswer']] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()

function type(k: number, text: string) {
  const typed = props.view.readings.map((_reading, j) => (j === k ? text : (props.answer.typed?.[j] ?? '')))
  emit('change', { ...props.answer, typed })
}
const hint = (quantity: string) =>
  t('stations.live.hint', { unit: unitWithReference(quantities.value.get(quantity), units.value) })
</script>

<template>
  <div class="bring" :class="{ narrow }">
    <span v-if="view.readings.length" class="label first">{{ t('stations.live.bring') }}</span>
    <label v-for="(reading, k) in view.readings" :key="k" class="reading">
      <span
        ><b>{{ reading.label }}</b> {{ inside(reading.condition_label) }}</span
      >
      <input
        :value="answer.typed?.[k] ?? ''"
        autocomplete="off"
        maxlength="60"
        :disabled="disabled"
        :placeholder="hint(reading.quantity)"
        @input="type(k, ($event.target as HTMLInputElement).value)"
      />
    </label>
    <label class="label words" :for="`${name}-noticed`">{{ t('stations.live.noticed') }}</label>
    <textarea
      :id="`${name}-noticed`"
      :rows="narrow ? 2 : 5"
      maxlength="4000"
      :value="answer.noticed ?? ''"
      :disabled="disabled"
      @input="emit('change', { ...answer, noticed: ($event.target as HTMLTextAreaElement).value })"
    ></textarea>
  </div>
</template>

<style scoped>
.bring {
  display: grid;
  gap: 6px;
  max-width: 720px;
}
.reading {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 200px;
  align-items: baseline;
  gap: var(--space-3);
}
input,
textarea {
  border: 1px solid var(--text-soft);
  background: var(--field);
  color: var(--text);
  padding: 5px 8px;
  font-size: 15px;
  width: 100%;
}
.words {
  margin-top: var(--space-2);
}
.narrow {
  max-width: none;
  grid-template-columns: repeat(auto-fill, minmax(480px, 1fr));
  align-items: end;
}
.narrow > .first {
  display: none;
}
.narrow > .words {
  grid-column: 1 / -1;
  margin: 0;
}
.narrow textarea {
  grid-column: 1 / -1;
}
</style>
