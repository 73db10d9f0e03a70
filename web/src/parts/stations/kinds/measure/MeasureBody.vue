<script setup lang="ts">
import type { BodyProps } from '@/parts/stations/kind'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { unitWithReference } from '@/format/units'
import StationLanes from '@/parts/stations/StationLanes.vue'
import { inside } from '@/parts/prose/inside'

type Answer = Schemas['MeasureAnswer']

/** The lane, and a field for the value that stands in it. */
const props = defineProps<BodyProps<'measure'>>()
const emit = defineEmits<{ change: [answer: Answer] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()

const asked = computed(() => props.view.readings[0])
const unit = computed(() => unitWithReference(quantities.value.get(asked.value?.quantity ?? ''), units.value))
</script>

<template>
  <StationLanes v-if="view.has_lanes" :lanes="lanes" :channels="view.channels" :focus="view.focus" />
  <div v-if="asked" class="measure">
    <label class="label" :for="`${name}-reading`">{{ t('stations.measure.label') }}</label>
    <p class="asked">{{ asked.label }}, {{ inside(asked.condition_label) }}</p>
    <input
      :id="`${name}-reading`"
      class="entry"
      autocomplete="off"
      :value="answer.reading ?? ''"
      :disabled="disabled"
      :placeholder="t('stations.measure.hint', { unit })"
      @input="emit('change', { ...answer, reading: ($event.target as HTMLInputElement).value })"
    />
  </div>
</template>

<style scoped>
.measure {
  display: grid;
  grid-template-columns: auto 1fr;
  align-items: baseline;
  gap: 2px var(--space-3);
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
.measure .label {
  grid-column: 1 / -1;
}
.asked {
  margin: 0;
  font-weight: 600;
}
.entry {
  width: 220px;
  border: 1px solid var(--text-soft);
  background: var(--field);
  padding: 6px 9px;
  font-size: 16px;
}
</style>
