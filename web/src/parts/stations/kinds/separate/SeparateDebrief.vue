<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** All tests: the chosen one, and what each would have shown. */
const props = defineProps<{ parts: Schemas['MarkedSeparate']['parts'] }>()
const { t } = useI18n()
const rows = computed(() =>
  props.parts.map((part) => ({
    id: part.id,
    label: part.label,
    given: part.given ? t('stations.separate.chosen') : '',
    right: t(part.separates ? 'stations.separate.separates' : 'stations.separate.separatesNot'),
    reason: part.reason,
    points: part.points,
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
</template>
