<script setup lang="ts">
import type { BodyProps } from '@/parts/stations/kind'
import ExplorerPanel from '@/parts/explorer/ExplorerPanel.vue'
import ProseText from '@/parts/prose/ProseText.vue'

/** A text, beside it the drawing, below it own pictures. */
defineProps<BodyProps<'explain'>>()
</script>

<template>
  <div class="explain">
    <div class="told" :class="{ beside: view.drawing !== 'none' }">
      <ProseText v-if="view.text" :text="view.text" />
      <ExplorerPanel v-if="view.drawing && view.drawing !== 'none'" :drawing="view.drawing" bare />
    </div>
    <div v-if="view.pictures?.length" class="pictures">
      <figure v-for="picture in view.pictures" :key="picture.id">
        <img :src="`/api/pictures/${picture.id}`" :alt="picture.alt" loading="lazy" />
        <figcaption v-if="picture.caption" class="small">{{ picture.caption }}</figcaption>
      </figure>
    </div>
  </div>
</template>

<style scoped>
.explain {
  display: grid;
  gap: var(--space-4);
}
.told {
  display: grid;
  gap: var(--space-4);
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: flex-start;
}
figure {
  margin: 0;
  flex: 0 1 auto;
  max-width: 100%;
}
img {
  display: block;
  max-width: 100%;
  max-height: 460px;
  border: 1px solid var(--rule);
}
figcaption {
  margin-top: 4px;
  max-width: 60ch;
}
@container (min-width: 1080px) {
  .beside {
    grid-template-columns: minmax(0, 1fr) 620px;
  }
}
</style>
