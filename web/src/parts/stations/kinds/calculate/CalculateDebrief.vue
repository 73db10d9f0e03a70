<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** Line by line: what was given, what is right, and what went wrong. */
const props = defineProps<{ parts: Schemas['MarkedCalculate']['parts'] }>()
const { t } = useI18n()
const rows = computed(() =>
  props.parts.flatMap((part) =>
    part.lines.map((line) => {
      const marked = part.marked?.find((entry) => entry.symbol === line.symbol)
      return {
        id: line.symbol,
        label: line.label,
        given: [marked?.given, marked && t(`stations.calculate.${marked.verdict}`)].filter(Boolean).join(', '),
        right: line.shown,
        reason: marked?.reason ?? '',
        points: marked?.points,
      }
    }),
  ),
)
</script>

<template>
  <MarkedRows :rows="rows" />
  <p v-for="part in parts" :key="part.working">{{ part.meaning }}</p>
</template>
