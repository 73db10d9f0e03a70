<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { typedNumber } from '@/parts/stations/typed'
import ReadingPlaceRow from '@/parts/stations/ReadingPlaceRow.vue'

/** The value to read, how near the answer must be, and on which car. */
defineProps<FormProps<'measure'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Measure']>] }>()
const { t } = useI18n()
</script>

<template>
  <span class="label">{{ t('stations.measure.asked') }}</span>
  <ReadingPlaceRow
    :place="station.reading"
    :conditions="conditions"
    :only="only"
    @change="(reading) => emit('change', { reading })"
  />
  <label class="label" for="tolerance">{{ t('stations.measure.tolerance') }}</label>
  <span>
    <input
      id="tolerance"
      class="short"
      type="number"
      min="0.5"
      max="50"
      step="0.5"
      :value="station.tolerance_percent"
      @change="emit('change', { tolerance_percent: typedNumber($event, 0.5, 50) ?? station.tolerance_percent })"
    />
    %
  </span>
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.faulty"
      @change="emit('change', { faulty: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.measure.fromFaulty') }}
  </label>
</template>
