<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** What was predicted beside what happened. */
const props = defineProps<{ parts: Schemas['MarkedPredict']['parts'] }>()
const { t } = useI18n()
const rows = computed(() =>
  props.parts.map((part, k) => ({
    id: String(k),
    label: `${part.condition_label}, ${part.label}`,
    given: part.given ? t(`stations.predict.${part.given}`) : '',
    right: t(`stations.predict.${part.way}`),
    reason: part.reason,
    points: part.points,
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
</template>
