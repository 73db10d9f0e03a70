<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import { useAtlas } from '@/parts/atlas/pages'
import type { Schemas } from '@/api/client'
import PictureFields from './PictureFields.vue'

/** The drawing that stands beside the text, and own pictures below it. */
defineProps<FormProps<'explain'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Explain']>] }>()
const { t } = useI18n()
const { drawings } = useAtlas()
</script>

<template>
  <label class="label" for="drawing">{{ t('stations.explain.drawing') }}</label>
  <select
    id="drawing"
    :value="station.drawing"
    @change="emit('change', { drawing: ($event.target as HTMLSelectElement).value })"
  >
    <option value="none">{{ t('stations.explain.noDrawing') }}</option>
    <option v-for="drawing in drawings" :key="drawing.id" :value="drawing.id">{{ drawing.label }}</option>
  </select>
  <PictureFields :pictures="station.pictures ?? []" @change="(pictures) => emit('change', { pictures })" />
</template>
