<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import SketchPlot from './SketchPlot.vue'

/** The sketch over what came. */
defineProps<{ parts: Schemas['MarkedSketch']['parts'] }>()
const { t } = useI18n()
</script>

<template>
  <div v-for="(part, k) in parts" :key="k">
    <SketchPlot
      :trace="part"
      :drawn="part.drawn"
      :faulty="part.faulty"
      :right="part.right"
      :tolerance="part.tolerance"
    />
    <p>
      <b>{{ t('stations.sketch.met', { met: part.met, all: part.right.filter((value) => value !== null).length }) }}</b>
      {{ part.reason }}
    </p>
  </div>
</template>
