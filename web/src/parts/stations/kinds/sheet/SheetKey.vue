<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** Which engines are sound, and what tells the others. */
defineProps<{ parts: Schemas['SheetKey']['parts'] }>()
const { t } = useI18n()
const reasons = (part: Schemas['SheetPart']) =>
  part.readings
    .filter((reading) => reading.tells)
    .map((reading) => reading.reason)
    .join(' ')
</script>

<template>
  <KeyRow v-for="(part, k) in parts" :key="k" :reason="reasons(part)">
    {{ t('stations.sheet.engine', { n: k + 1 }) }} <b>{{ t(`stations.sheet.${part.right}`) }}</b>
  </KeyRow>
</template>
