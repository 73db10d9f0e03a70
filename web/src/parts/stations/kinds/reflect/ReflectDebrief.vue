<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** What was written. */
defineProps<{ parts: Schemas['MarkedReflect']['parts'] }>()
</script>

<template>
  <p v-for="(part, k) in parts" :key="k" class="said">{{ part.text }}</p>
</template>

<style scoped>
.said {
  white-space: pre-wrap;
  border-left: 3px solid var(--rule);
  padding-left: var(--space-3);
  max-width: 80ch;
}
</style>
