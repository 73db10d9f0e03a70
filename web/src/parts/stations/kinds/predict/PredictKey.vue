<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** Where each reading goes, and by how much. */
defineProps<{ parts: Schemas['PredictKey']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <KeyRow v-for="(part, k) in parts" :key="k" :reason="part.reason">
    <b>{{ t(`stations.predict.${part.way}`) }}</b> <span>{{ part.condition_label }}, {{ part.label }}</span>
  </KeyRow>
</template>
