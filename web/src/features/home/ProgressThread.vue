<script setup lang="ts">
/** How far along the thread: a knot per station, filled when answered. */
defineProps<{ all: number; done: number }>()
</script>

<template>
  <svg class="progress" :width="all * 34 + 12" height="16" aria-hidden="true">
    <line x1="0" y1="8" :x2="all * 34 + 12" y2="8" stroke="var(--rule)" stroke-width="2" />
    <line x1="0" y1="8" :x2="done * 34" y2="8" stroke="var(--accent)" stroke-width="2" />
    <circle
      v-for="k in all"
      :key="k"
      :cx="k * 34 - 14"
      cy="8"
      r="5"
      :fill="k <= done ? 'var(--accent)' : 'var(--surface)'"
      :stroke="k <= done ? 'var(--accent)' : 'var(--rule)'"
      stroke-width="2"
    />
  </svg>
</template>

<style scoped>
.progress {
  display: block;
  margin: 0 0 4px;
}
</style>
