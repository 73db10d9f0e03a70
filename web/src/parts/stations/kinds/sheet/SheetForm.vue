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
  <ReadingPlaces
    :label="t('stations.sheet.readings')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    :fewest="2"
    @change="(readings) => readings.length <= 12 && emit('change', { readings })"
  />
</template>
