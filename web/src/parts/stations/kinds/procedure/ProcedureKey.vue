<script setup lang="ts">
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'

/** The best choice of each stage, and what comes of it. */
defineProps<{ parts: Schemas['ProcedureKey']['parts'] }>()
const best = (part: Schemas['ProcedurePart']) => part.choices.find((choice) => choice.worth === 1)
</script>

<template>
  <KeyRow v-for="part in parts" :key="part.id" :reason="best(part)?.comes ?? ''">
    <span class="soft">{{ part.situation }}</span>
    <b>{{ best(part)?.text }}</b>
  </KeyRow>
</template>
