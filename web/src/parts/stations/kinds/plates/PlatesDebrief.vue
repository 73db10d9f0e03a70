<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** Plate by plate, what was said and what it means. */
const props = defineProps<{ parts: Schemas['MarkedPlates']['parts'] }>()
const rows = computed(() =>
  props.parts.map((part) => ({
    id: part.plate,
    label: part.sight,
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
