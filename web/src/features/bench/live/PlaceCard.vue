<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import PlaceFrame from '@/features/bench/live/PlaceFrame.vue'
import CautionNote from '@/parts/prose/CautionNote.vue'
import CircuitLines from '@/features/bench/live/CircuitLines.vue'
import type { Tips } from '@/features/bench/live/desk'
import type { Doing, Marks, Now, Vehicle, Wire } from '@/features/bench/live/line'

/** What sits at a place of the thread: its three layers beside those of the sound engine, and what hands can do there. */
const props = defineProps<{
  sensor: Schemas['SensorOut']
  rig?: Rig
  now: Now
  marks: Marks
  vehicle: Vehicle
  reach?: Schemas['ReachOut']
  lanes: string[]
  /** Cautions at some acts. */
  words: (acts: string[]) => string[]
  circuit: (wire: string) => Promise<Wire[]>
}>()
const emit = defineEmits<{ act: [doing: Doing]; probe: [tips: Tips]; lane: [channel: string]; close: [] }>()
const { t } = useI18n()

/** From the engine outwards: truth, signal, display. */
const outwards = computed(() => [...props.sensor.channels].reverse())
const plugs = computed(() => props.reach?.plugs.filter((plug) => plug.sensor === props.sensor.id) ?? [])
const circuits = computed(() => [...new Set(plugs.value.map((entry) => entry.plug))])
const part = computed(() => props.reach?.parts.find((entry) => entry.sensor === props.sensor.id)?.name)
const exchanged = computed(() => part.value !== undefined && props.vehicle.parts.includes(part.value))
const substituted = computed(() => props.marks.substitutes.includes(props.sensor.channels[0] ?? ''))

const minding = computed(() =>
  props.words([...(plugs.value.length ? ['do:pull_plug'] : []), ...(part.value ? [`part:${part.value}`] : [])]),
)

function pull(circuit: string) {
  const off = props.vehicle.unplugged.includes(circuit)
  emit('act', { do: off ? 'put_plug' : 'pull_plug', circuit })
}
</script>

<template>
  <PlaceFrame
    :title="sensor.term"
    :sub="`${sensor.name}, ${sensor.place}`"
    :name="sensor.name"
    :channels="outwards"
    by-layer
    :knot="sensor.id"
    :rig="rig?.id"
    :now="now"
    :lanes="lanes"
    @lane="(channel) => emit('lane', channel)"
    @close="emit('close')"
  >
    <p v-if="substituted" class="small note">{{ t('player.substituteMeans') }}.</p>
    <p v-else-if="marks.parted.includes(sensor.id)" class="small note">{{ t('live.partedMeans') }}</p>
    <CircuitLines
      v-for="name in circuits"
      :key="name"
      :wire="name"
      :ask="circuit"
      :is-off="plugs.some((plug) => plug.wire === name && vehicle.unplugged.includes(plug.circuit))"
      @probe="(tips) => emit('probe', tips)"
    />
    <div v-if="plugs.length || part" class="buttons">
      <button
        v-for="plug in plugs"
        :key="plug.circuit"
        type="button"
        :aria-pressed="vehicle.unplugged.includes(plug.circuit)"
        @click="pull(plug.circuit)"
      >
        {{ t(vehicle.unplugged.includes(plug.circuit) ? 'live.plugOn' : 'live.plugOff', { plug: plug.label }) }}
      </button>
      <button
        v-if="part"
        type="button"
        :aria-pressed="exchanged"
        @click="emit('act', { do: exchanged ? 'put_part_back' : 'fit_part', part })"
      >
        {{ t(exchanged ? 'live.partBack' : 'live.partNew') }}
      </button>
      <button
        v-for="plug in plugs"
        :key="`wiggle ${plug.circuit}`"
        type="button"
        @pointerdown="emit('act', { do: 'move_plug', place: plug.circuit })"
        @pointerup="emit('act', { do: 'move_plug', place: null })"
        @keydown.space.prevent="!$event.repeat && emit('act', { do: 'move_plug', place: plug.circuit })"
        @keyup.space="emit('act', { do: 'move_plug', place: null })"
      >
        {{ t('live.wiggle', { plug: plug.label }) }}
      </button>
    </div>
    <CautionNote :texts="minding" />
  </PlaceFrame>
</template>

<style scoped>
.note {
  border-left: 3px solid var(--suspect);
  padding-left: var(--space-2);
  margin: var(--space-2) 0;
}
</style>
