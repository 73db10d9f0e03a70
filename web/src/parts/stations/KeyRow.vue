<script setup lang="ts">
/** A part of a key: what is right in the slot, under it why. */
defineProps<{ reason: string }>()
</script>

<template>
  <li>
    <slot></slot>
    <span class="small why">{{ reason }}</span>
  </li>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 10px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
li :deep(span > .soft) {
  margin-left: 6px;
}
.why {
  flex-basis: 100%;
}
</style>
