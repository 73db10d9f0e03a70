<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'

/** What was said of each statement, and the fact. */
const props = defineProps<{ parts: Schemas['MarkedMyth']['parts'] }>()
const { t } = useI18n()
const rows = computed(() =>
  props.parts.map((part) => ({
    ...part,
    label: part.text,
    given: part.given ? t(`stations.myth.${part.given}`) : '',
    right: t(`stations.myth.${part.right}`),
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
</template>
