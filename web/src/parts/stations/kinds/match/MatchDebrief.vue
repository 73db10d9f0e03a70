<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'
import { useReadings } from '@/parts/stations/readings'

/** Each place with the value that was put there, and the one that belongs there. */
const props = defineProps<{ parts: Schemas['MarkedMatch']['parts'] }>()
const { withUnit } = useReadings()
const rows = computed(() =>
  props.parts.map((part, k) => ({
    id: String(k),
    label: `${part.condition_label}, ${part.label}`,
    given: part.given_value == null ? '' : withUnit({ ...part, value: part.given_value }),
    right: withUnit(part),
    reason: part.reason,
    points: part.points,
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
</template>
