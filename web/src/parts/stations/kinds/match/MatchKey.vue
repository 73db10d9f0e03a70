<script setup lang="ts">
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'
import { useReadings } from '@/parts/stations/readings'

/** Each place with its value. */
defineProps<{ parts: Schemas['MatchKey']['parts'] }>()
const { withUnit } = useReadings()
</script>

<template>
  <KeyRow v-for="(part, k) in parts" :key="k" :reason="part.reason">
    <b>{{ withUnit(part) }}</b> <span>{{ part.condition_label }}, {{ part.label }}</span>
  </KeyRow>
</template>
