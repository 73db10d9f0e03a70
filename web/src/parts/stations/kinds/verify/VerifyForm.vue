<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
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
  <span class="label">{{ t('stations.verify.complaint') }}</span>
  <ChooseOne
    :value="station.complaint"
    :entries="conditions.map((id) => ({ value: id, label: named.get(id)?.label ?? id }))"
    :label="t('stations.verify.complaint')"
    @choose="(complaint) => emit('change', { complaint })"
  />
  <ReadingPlaces
    :label="t('stations.verify.readings')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    @change="(readings) => emit('change', { readings })"
  />
  <p class="small soft">{{ t('stations.verify.chance') }}</p>
</template>
