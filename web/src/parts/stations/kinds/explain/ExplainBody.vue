<script setup lang="ts">
import type { BodyProps } from '@/parts/stations/kind'
import ExplorerPanel from '@/parts/explorer/ExplorerPanel.vue'
import ProseText from '@/parts/prose/ProseText.vue'

/** A text, and beside it the drawing. */
defineProps<BodyProps<'explain'>>()
</script>

<template>
  <div class="told" :class="{ beside: view.drawing !== 'none' }">
    <ProseText v-if="view.text" :text="view.text" />
    <ExplorerPanel v-if="view.drawing && view.drawing !== 'none'" :drawing="view.drawing" bare />
  </div>
</template>

<style scoped>
.told {
  display: grid;
  gap: var(--space-4);
}
@container (min-width: 1080px) {
  .beside {
    grid-template-columns: minmax(0, 1fr) 620px;
  }
}
</style>
