<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import OrderTable from './OrderTable.vue'

/** The order that costs least, and how far apart the orders are. */
defineProps<{ parts: Schemas['OrderKey']['parts'] }>()
const { t } = useI18n()
function dearest(part: Schemas['OrderPart']): number {
  return Math.max(...Object.values(part.costs))
}
</script>

<template>
  <li v-for="(part, k) in parts" :key="k">
    <span class="label">{{ t('stations.order.best', { n: Math.round(part.least) }) }}</span>
    <OrderTable :part="part" :order="part.best" />
    <span class="small soft">{{ t('stations.order.range', { most: Math.round(dearest(part)) }) }}</span>
  </li>
</template>

<style scoped>
li {
  list-style: none;
}
</style>
