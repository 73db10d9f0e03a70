<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'
import { typedNumber } from '@/parts/stations/typed'

/** What is to be read on the real engine, and how exact the instrument is. */
defineProps<FormProps<'own'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Own']>] }>()
const { t } = useI18n()
</script>

<template>
  <label class="label" for="own-error">{{ t('stations.own.errorPercent') }}</label>
  <input
    id="own-error"
    class="short"
    type="number"
    min="0"
    max="20"
    step="0.5"
    :value="station.error_percent"
    @change="emit('change', { error_percent: typedNumber($event, 0, 20) ?? station.error_percent })"
  />
  <ReadingPlaces
    :label="t('stations.own.places')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    @change="(readings) => readings.length <= 6 && emit('change', { readings })"
  />
</template>
