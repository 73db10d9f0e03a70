<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** Each offered cause: whether it explains all readings, and what rules it out. */
defineProps<{ parts: Schemas['ConcludeKey']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <KeyRow v-for="part in parts" :key="part.id" :reason="part.reason">
    <b>{{ part.label }}</b>
    <span class="soft">{{ t(part.explains ? 'stations.conclude.explains' : 'stations.conclude.explainsNot') }}</span>
    <span v-if="part.true_cause" class="built">{{ t('stations.conclude.trueCause') }}: {{ part.detail }}</span>
  </KeyRow>
</template>

<style scoped>
.built {
  color: var(--accent);
}
</style>
