<script setup lang="ts">
import { computed } from 'vue'

/** What a trainer says over parts of a key that have no reason of their own to say it in. */
const props = defineProps<{ parts: readonly unknown[] }>()
type Part = { overruled?: string; reason?: string }
const notes = computed(() => [
  ...new Set((props.parts as Part[]).flatMap((p) => (p.overruled && !('reason' in p) ? [p.overruled] : []))),
])
</script>

<template>
  <p v-for="note in notes" :key="note" class="small overruled">{{ note }}</p>
</template>

<style scoped>
.overruled {
  margin: var(--space-1) 0;
  padding-left: var(--space-2);
  border-left: 2px solid var(--edge);
}
</style>
