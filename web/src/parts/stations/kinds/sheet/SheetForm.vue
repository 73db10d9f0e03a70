<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'
import { typedNumber } from '@/parts/stations/typed'

/** The readings of a sheet, how many engines, and how many words. */
defineProps<FormProps<'sheet'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Sheet']>] }>()
const { t } = useI18n()
/** Lanes that can be looked at beside each other. */
const MOST_TRACES = 4
</script>

<template>
  <label class="label" for="sheet-engines">{{ t('stations.sheet.engines') }}</label>
  <input
    id="sheet-engines"
    class="short"
    type="number"
    min="1"
    max="4"
    :value="station.engines"
    @change="emit('change', { engines: Math.round(typedNumber($event, 1, 4) ?? station.engines ?? 2) })"
  />
  <label class="label" for="sheet-share">{{ t('stations.sheet.share') }}</label>
  <input
    id="sheet-share"
    class="short"
    type="number"
    min="10"
    max="90"
    step="5"
    :value="station.faulty_percent"
    @change="
      emit('change', { faulty_percent: Math.round(typedNumber($event, 10, 90) ?? station.faulty_percent ?? 50) })
    "
  />
  <label class="label" for="sheet-words">{{ t('stations.sheet.words') }}</label>
  <input
    id="sheet-words"
    class="short"
    type="number"
    min="0"
    max="100"
    :value="station.words"
    @change="emit('change', { words: Math.round(typedNumber($event, 0, 100) ?? station.words ?? 0) })"
  />
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.as_traces"
      :disabled="!station.as_traces && station.readings.length > MOST_TRACES"
      @change="emit('change', { as_traces: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.sheet.asTraces') }}
  </label>
  <template v-if="station.as_traces">
    <label class="label" for="sheet-answers">{{ t('stations.sheet.answers') }}</label>
    <input
      id="sheet-answers"
      class="short"
      type="number"
      min="0"
      max="50"
      step="0.5"
      :value="station.answers"
      @change="emit('change', { answers: typedNumber($event, 0, 50) ?? station.answers ?? 0 })"
    />
  </template>
  <ReadingPlaces
    :label="t('stations.sheet.readings')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    :fewest="2"
    @change="(readings) => readings.length <= (station.as_traces ? MOST_TRACES : 12) && emit('change', { readings })"
  />
</template>
