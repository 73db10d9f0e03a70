<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'

/** The readings, and whether the fault is named before. */
defineProps<FormProps<'predict'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Predict']>] }>()
const { t } = useI18n()
</script>

<template>
  <ReadingPlaces
    :label="t('stations.predict.readings')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    @change="(readings) => emit('change', { readings })"
  />
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.tell_fault"
      @change="emit('change', { tell_fault: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.predict.tellFault') }}
  </label>
</template>
