<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { lineOf } from '@/parts/explorer/lines'
import TraceLines from '@/parts/explorer/TraceLines.vue'

/** The same readings of several engines along their conditions, beside each other on the same axes. */
const props = defineProps<{ traces: Schemas['Trace'][][] }>()
const { t } = useI18n()
const engines = computed(() => props.traces.map((traces) => traces.map((trace, k) => lineOf(trace, String(k)))))
</script>

<template>
  <div class="engines">
    <figure v-for="(lines, k) in engines" :key="k">
      <figcaption>{{ t('stations.sheet.engine', { n: k + 1 }) }}</figcaption>
      <TraceLines :traces="lines" :beside="engines" />
    </figure>
  </div>
</template>

<style scoped>
.engines {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: var(--space-2) var(--space-4);
}
figure {
  margin: 0;
}
figcaption {
  font-weight: 600;
}
</style>
