<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Doing, Now, Vehicle } from '@/features/bench/live/line'
import PlaceFrame from '@/features/bench/live/PlaceFrame.vue'
import PressGroups from '@/features/bench/live/PressGroups.vue'
import CautionNote from '@/parts/prose/CautionNote.vue'

/** A part on the way of the air, or a branch off it: what is known there, and what hands can do. */
const props = defineProps<{
  station: Schemas['StationOut']
  now: Now
  vehicle: Vehicle
  lanes: string[]
  rig?: string
  /** Cautions at some acts. */
  words: (acts: string[]) => string[]
}>()
const emit = defineEmits<{ act: [doing: Doing]; lane: [channel: string]; close: [] }>()

const minding = computed(() => {
  const { hoses, parts, actuators } = props.station
  return props.words([
    ...hoses.map((hose) => `hose:${hose}`),
    ...parts.map((part) => `part:${part}`),
    ...(hoses.length ? ['do:close_hose'] : []),
    ...(actuators.length ? ['do:hold_actuator'] : []),
  ])
})
</script>

<template>
  <PlaceFrame
    :title="station.label"
    :sub="station.name"
    :name="station.name"
    :channels="station.channels"
    :now="now"
    :lanes="lanes"
    :knot="station.id"
    :rig="rig"
    @lane="(channel) => emit('lane', channel)"
    @close="emit('close')"
  >
    <PressGroups :found="station" :vehicle="vehicle" @act="(doing) => emit('act', doing)" />
    <CautionNote :texts="minding" />
  </PlaceFrame>
</template>
