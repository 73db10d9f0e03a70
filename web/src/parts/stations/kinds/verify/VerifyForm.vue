<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import ConditionSelect from '@/parts/choice/ConditionSelect.vue'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'

/** The condition of the complaint, and the readings before and after. */
defineProps<FormProps<'verify'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Verify']>] }>()
const { t } = useI18n()
</script>

<template>
  <span class="label">{{ t('stations.verify.complaint') }}</span>
  <ConditionSelect
    :value="station.complaint"
    :conditions="conditions"
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
