<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** Pin by pin, what was said and what it is. */
const props = defineProps<{ parts: Schemas['MarkedPins']['parts'] }>()
const rows = computed(() =>
  props.parts.map((part) => ({
    id: part.letter,
    label: `${part.letter}: ${part.volts.map((volts) => volts.toFixed(2)).join(' / ')} V`,
    given: part.given ?? '',
    right: part.right,
    reason: part.reason,
    points: part.points,
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
</template>
