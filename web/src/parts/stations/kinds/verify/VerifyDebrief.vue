<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import MarkedRows from '@/parts/stations/MarkedRows.vue'
import ValuesTable from './ValuesTable.vue'

/** What was said, what the readings say, and each reading judged. */
const props = defineProps<{ parts: Schemas['MarkedVerify']['parts'] }>()
const { t } = useI18n()
const rows = computed(() =>
  props.parts.map((part, k) => ({
    id: String(k),
    label: t('stations.verify.ask'),
    given: part.given ? t(`stations.verify.${part.given}`) : '',
    right: t(`stations.verify.${part.right}`),
    reason: part.reason,
    points: part.points,
  })),
)
</script>

<template>
  <MarkedRows :rows="rows" />
  <ValuesTable v-for="(part, k) in parts" :key="k" :rows="part.rows" />
</template>
