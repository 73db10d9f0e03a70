<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'

/** The places whose values are handed out in another order. */
defineProps<FormProps<'match'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Match']>] }>()
const { t } = useI18n()
</script>

<template>
  <ReadingPlaces
    :label="t('stations.match.places')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    @change="(readings) => readings.length >= 3 && readings.length <= 8 && emit('change', { readings })"
  />
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.faulty"
      @change="emit('change', { faulty: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.match.faulty') }}
  </label>
</template>
