<script setup lang="ts">
import { computed } from 'vue'
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { useAtlas } from '@/parts/atlas/pages'
import type { Schemas } from '@/api/client'
import PictureFields from './PictureFields.vue'

/** The drawing that stands beside the text, and own pictures below it. */
defineProps<FormProps<'explain'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Explain']>] }>()
const { t } = useI18n()
const { drawings } = useAtlas()
const offered = computed(() => [
  { value: 'none', label: t('stations.explain.noDrawing') },
  ...drawings.value.map(({ id, label }) => ({ value: id, label })),
])
</script>

<template>
  <span class="label">{{ t('stations.explain.drawing') }}</span>
  <ChooseOne
    :value="station.drawing ?? 'none'"
    :entries="offered"
    :label="t('stations.explain.drawing')"
    @choose="(drawing) => emit('change', { drawing })"
  />
  <PictureFields :pictures="station.pictures ?? []" @change="(pictures) => emit('change', { pictures })" />
</template>
