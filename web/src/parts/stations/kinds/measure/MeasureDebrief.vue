<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'

/** The reading that was given beside the right one. */
defineProps<{ parts: Schemas['MarkedMeasure']['parts'] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
</script>

<template>
  <div v-for="part in parts" :key="part.label" class="measure">
    <span class="label">{{ t('debrief.given') }}</span><b>{{ part.given }}</b>
    <span class="label">{{ t('debrief.right') }}</span><span
      ><b>{{ withUnit(part) }}</b
      >, <span class="soft">{{ part.condition_label }}, {{ part.label }}</span></span
    >
    <span class="label">{{ t('debrief.why') }}</span><span>{{ part.reason }}</span>
  </div>
</template>

<style scoped>
.measure {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 4px var(--space-3);
  align-items: baseline;
  padding: var(--space-2) 0;
}
</style>
