<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'

/** The condition of the complaint, and the readings before and after. */
defineProps<FormProps<'verify'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Verify']>] }>()
const { t } = useI18n()
const { conditions: named } = useCatalogue()
</script>

<template>
  <label class="label" for="verify-complaint">{{ t('stations.verify.complaint') }}</label>
  <select
    id="verify-complaint"
    :value="station.complaint"
    @change="emit('change', { complaint: ($event.target as HTMLSelectElement).value })"
  >
    <option v-for="name in conditions" :key="name" :value="name">{{ named.get(name)?.label ?? name }}</option>
  </select>
  <ReadingPlaces
    :label="t('stations.verify.readings')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    @change="(readings) => emit('change', { readings })"
  />
  <p class="small soft">{{ t('stations.verify.chance') }}</p>
</template>
