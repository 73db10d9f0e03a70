<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** What the readings after the repair say. */
defineProps<{ parts: Schemas['VerifyKey']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <template v-for="(part, k) in parts" :key="k">
    <KeyRow :reason="part.reason">
      <b>{{ t(`stations.verify.${part.right}`) }}</b>
    </KeyRow>
  </template>
</template>
