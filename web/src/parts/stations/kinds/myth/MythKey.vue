<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** True or not, with the fact. */
defineProps<{ parts: Schemas['MythKey']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <KeyRow v-for="part in parts" :key="part.id" :reason="part.reason">
    <b>{{ t(`stations.myth.${part.right}`) }}</b> <span>{{ part.text }}</span>
  </KeyRow>
</template>
