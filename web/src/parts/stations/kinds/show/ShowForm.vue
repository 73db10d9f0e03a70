<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import ConditionSelect from '@/parts/choice/ConditionSelect.vue'
import type { Schemas } from '@/api/client'
import ChosenLanes from '@/parts/stations/ChosenLanes.vue'

/** Which lanes, where to zoom, and whether the sound engine stands beside. */
defineProps<FormProps<'show'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Show']>] }>()
const { t } = useI18n()
</script>

<template>
  <ChosenLanes
    :label="t('stations.show.channels')"
    :chosen="station.channels"
    :most="8"
    :only="only"
    @change="(channels) => emit('change', { channels })"
  />
  <span class="label">{{ t('stations.show.focus') }}</span>
  <ConditionSelect
    :value="station.focus ?? ''"
    :conditions="conditions"
    :label="t('stations.show.focus')"
    :none="t('stations.show.wholeScript')"
    @choose="(focus) => emit('change', { focus: focus || null })"
  />
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.show_good"
      @change="emit('change', { show_good: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.show.showGood') }}
  </label>
</template>
