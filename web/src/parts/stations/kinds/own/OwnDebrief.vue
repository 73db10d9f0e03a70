<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** What was read and said, and what follows from the value. */
const props = defineProps<{ parts: Schemas['MarkedOwn']['parts'] }>()
const { t, te } = useI18n()
const word = (verdict: string) => (te(`verdict.${verdict}`) ? t(`verdict.${verdict}`) : '')
const rows = computed(() =>
  props.parts.map((part, k) => ({
    id: String(k),
    label: `${part.condition_label}, ${part.label}`,
    given: `${part.given} ${word(part.said)}`.trim(),
    right: word(part.right),
    reason: part.reason,
    points: part.points,
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
</template>
