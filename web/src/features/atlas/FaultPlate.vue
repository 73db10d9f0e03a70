<script setup lang="ts">
import type { Schemas } from '@/api/client'
import PlateDrawing from '@/parts/plates/PlateDrawing.vue'

/** What the eye sees beside what it might have seen: tips of oxygen sensors, terminals, hoses. */
defineProps<{ plates: Schemas['PlateShownOut'][] }>()
</script>

<template>
  <ul v-if="plates.length" class="plates">
    <li v-for="plate in plates" :key="plate.look" :class="{ on: plate.mine }">
      <PlateDrawing :look="plate.look" sight="" />
      <span class="small">{{ plate.words }}</span>
    </li>
  </ul>
</template>

<style scoped>
.plates {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  list-style: none;
  margin: 0 0 var(--space-3);
  padding: 0;
}
li {
  width: 128px;
  border: 1px solid var(--rule);
  padding: 6px;
  text-align: center;
}
li.on {
  border: 2px solid var(--accent);
  padding: 5px;
}
li span {
  display: block;
  line-height: 1.25;
}
</style>
