<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'
import { useReadings } from '@/parts/stations/readings'

/** What was brought back beside what the engine shows; the words stand below. */
const props = defineProps<{ parts: Schemas['MarkedLive']['parts'] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
const rows = computed(() =>
  props.parts.flatMap((part) =>
    part.readings.map((reading, k) => ({
      id: String(k),
      label: `${reading.condition_label}, ${reading.label}`,
      given: reading.given ?? '',
      right: withUnit(reading),
      reason: reading.reason,
      points: reading.points,
    })),
  ),
)
</script>

<template>
  <MarkedRows v-if="rows.length" :rows="rows" />
  <template v-for="(part, k) in parts" :key="k">
    <template v-if="part.noticed">
      <span class="label">{{ t('stations.live.noticed') }}</span>
      <p class="noticed">{{ part.noticed }}</p>
    </template>
  </template>
</template>

<style scoped>
.noticed {
  margin: 0;
  white-space: pre-wrap;
  max-width: 76ch;
}
</style>
