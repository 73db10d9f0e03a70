<script setup lang="ts">
import type { BodyProps } from '@/parts/stations/kind'
import StationLanes from '@/parts/stations/StationLanes.vue'

/** The lanes. */
defineProps<BodyProps<'show'>>()
</script>

<template>
  <StationLanes :lanes="lanes" :channels="view.channels" :show-good="view.show_good" :focus="view.focus" />
</template>
