<script setup lang="ts">
import type { Schemas } from '@/api/client'
import PlateDrawing from '@/parts/plates/PlateDrawing.vue'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** Plate by plate, what it means and why. */
defineProps<{ parts: Schemas['PlatesKey']['parts'] }>()
</script>

<template>
  <KeyRow v-for="part in parts" :key="part.plate" :reason="part.reason">
    <PlateDrawing class="plate" :look="part.look" sight="" /> <b>{{ part.right }}</b>
    <span class="soft">{{ part.sight }}</span>
  </KeyRow>
</template>

<style scoped>
.plate {
  height: 34px;
  align-self: center;
}
</style>
