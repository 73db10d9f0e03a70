<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'

/** The drawing that stands beside the text. */
defineProps<FormProps<'explain'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Explain']>] }>()
const { t } = useI18n()
</script>

<template>
  <label class="label" for="drawing">{{ t('stations.explain.drawing') }}</label>
  <select
    id="drawing"
    :value="station.drawing"
    @change="emit('change', { drawing: ($event.target as HTMLSelectElement).value as 'none' | 'narrowband' })"
  >
    <option value="none">{{ t('stations.explain.noDrawing') }}</option>
    <option value="narrowband">{{ t('stations.explain.narrowband') }}</option>
  </select>
</template>
