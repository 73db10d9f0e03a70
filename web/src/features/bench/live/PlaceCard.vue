<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { shown } from '@/format/units'
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
const { channels, quantities } = useCatalogue()

/** From the engine outwards: truth, signal, display. */
const layers = computed(() =>
  [...props.sensor.channels].reverse().flatMap((name) => {
    const channel = channels.value.get(name)
    if (!channel) return []
    const say = (value: number | null | undefined) => {
      const text = shown(value, quantities.value.get(channel.quantity), channel.digits, units.value)
      return `${text.text} ${text.unit}`
    }
    return [{ name, layer: channel.layer, here: say(props.now.values[name]), sound: say(props.now.twin[name]) }]
  }),
)
const plugs = computed(() => props.reach?.plugs.filter((plug) => plug.sensor === props.sensor.id) ?? [])
/** Supply and heater belong to the same plug as the signal. */
const circuits = computed(() => [...new Set(plugs.value.map((plug) => plug.wire.replace(/_(supply|heater)$/, '')))])
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
  <section class="card" :aria-label="sensor.name">
    <h2>
      {{ sensor.term }}
      <button type="button" class="close" :aria-label="t('app.close')" @click="emit('close')">×</button>
    </h2>
    <p class="small soft">{{ sensor.name }}, {{ sensor.place }}</p>
    <table class="plain">
      <thead>
        <tr>
          <th></th>
          <th class="number">{{ t('live.here') }}</th>
          <th class="number">{{ t('live.sound') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in layers" :key="row.name">
          <td>
            <button
              type="button"
              class="layer"
              :disabled="lanes.includes(row.name)"
              :title="t('live.asLane')"
              @click="emit('lane', row.name)"
            >
              {{ t(`layer.${row.layer}`) }}
            </button>
          </td>
          <td class="number">{{ row.here }}</td>
          <td class="number soft">{{ row.sound }}</td>
        </tr>
      </tbody>
    </table>
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
  </section>
</template>

<style scoped>
.card {
  border: 1px solid var(--rule);
  border-top: 3px solid var(--accent);
  background: var(--surface);
  padding: var(--space-2) var(--space-3);
  margin-bottom: var(--space-3);
}
h2 {
  display: flex;
  margin: 0;
}
.close {
  margin-left: auto;
  border: 0;
  background: none;
  font-size: 16px;
  color: var(--text-soft);
  cursor: pointer;
}
table.plain td,
table.plain th {
  padding: 2px 4px;
}
.layer {
  border: 0;
  background: none;
  padding: 0;
  color: var(--accent);
  cursor: pointer;
}
.layer:disabled {
  color: var(--text);
  cursor: default;
}
.note {
  border-left: 3px solid var(--suspect);
  padding-left: var(--space-2);
  margin: var(--space-2) 0;
}
</style>
