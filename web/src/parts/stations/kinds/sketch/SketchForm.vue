<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaceRow from '@/parts/stations/ReadingPlaceRow.vue'

/** The signal and its condition, and whether the fault is named before. */
const props = defineProps<FormProps<'sketch'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Sketch']>] }>()
const { t } = useI18n()
const { channels } = useCatalogue()
const shown = computed(() => (props.only ?? []).filter((name) => channels.value.get(name)?.layer !== 'truth'))
</script>

<template>
  <span class="label">{{ t('stations.sketch.place') }}</span>
  <ReadingPlaceRow
    :place="station.place"
    :conditions="conditions"
    :only="shown"
    @change="(place) => emit('change', { place: { ...place, stat: 'mean' } })"
  />
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.tell_fault"
      @change="emit('change', { tell_fault: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.sketch.tellFault') }}
  </label>
</template>
