<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import ChosenLanes from '@/parts/stations/ChosenLanes.vue'

/** Which lanes, where to zoom, and whether the sound engine stands beside. */
defineProps<FormProps<'show'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Show']>] }>()
const { t } = useI18n()
const { conditions: named } = useCatalogue()
</script>

<template>
  <ChosenLanes
    :label="t('stations.show.channels')"
    :chosen="station.channels"
    :most="8"
    :only="only"
    @change="(channels) => emit('change', { channels })"
  />
  <label class="label" for="focus">{{ t('stations.show.focus') }}</label>
  <select
    id="focus"
    :value="station.focus ?? ''"
    @change="emit('change', { focus: ($event.target as HTMLSelectElement).value || null })"
  >
    <option value="">{{ t('stations.show.wholeScript') }}</option>
    <option v-for="id in conditions" :key="id" :value="id">{{ named.get(id)?.label ?? id }}</option>
  </select>
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.show_good"
      @change="emit('change', { show_good: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.show.showGood') }}
  </label>
</template>
