<script setup lang="ts">
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** Pin by pin, and what gives it away. */
defineProps<{ parts: Schemas['PinsKey']['parts'] }>()
</script>

<template>
  <KeyRow v-for="part in parts" :key="part.letter" :reason="part.reason">
    <b>{{ part.letter }}</b> {{ part.right }}
  </KeyRow>
</template>
