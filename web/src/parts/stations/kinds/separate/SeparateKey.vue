<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** What each test would show. */
defineProps<{ parts: Schemas['SeparateKey']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <KeyRow v-for="part in parts" :key="part.id" :reason="part.reason">
    <b>{{ part.label }}</b>
    <span class="soft">{{ t(part.separates ? 'stations.separate.separates' : 'stations.separate.separatesNot') }}</span>
  </KeyRow>
</template>
