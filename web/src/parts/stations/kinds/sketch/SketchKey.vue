<script setup lang="ts">
import type { Schemas } from '@/api/client'
import SketchPlot from './SketchPlot.vue'

/** What the trace looks like, and what is accepted. */
defineProps<{ parts: Schemas['SketchKey']['parts'] }>()
</script>

<template>
  <li v-for="(part, k) in parts" :key="k" class="part">
    <SketchPlot :trace="part" :drawn="[]" :faulty="part.faulty" :right="part.right" :tolerance="part.tolerance" />
    <p class="small">{{ part.reason }}</p>
  </li>
</template>

<style scoped>
.part {
  list-style: none;
}
</style>
