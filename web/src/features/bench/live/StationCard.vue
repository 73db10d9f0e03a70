<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { handsOn } from '@/features/bench/live/handsOn'
import type { Doing, Now, Vehicle } from '@/features/bench/live/line'
import { shown } from '@/format/units'
import CautionNote from '@/parts/prose/CautionNote.vue'

/** A part on the way of the air, or a branch off it: what is known there, and what hands can do. */
const props = defineProps<{
  station: Schemas['StationOut']
  now: Now
  vehicle: Vehicle
  lanes: string[]
  words: (acts: string[]) => string[]
}>()
const emit = defineEmits<{ act: [doing: Doing]; lane: [channel: string]; close: [] }>()
const { t } = useI18n()
const { channels, quantities } = useCatalogue()

const rows = computed(() =>
  props.station.channels.flatMap((name) => {
    const channel = channels.value.get(name)
    if (!channel) return []
    const say = (value: number | null | undefined) => {
      const text = shown(value, quantities.value.get(channel.quantity), channel.digits, units.value)
      return `${text.text} ${text.unit}`
    }
    return [
      {
        name,
        label: channel.label,
        layer: channel.layer,
        here: say(props.now.values[name]),
        sound: say(props.now.twin[name]),
      },
    ]
  }),
)
const groups = computed(() => handsOn(props.station, props.vehicle).filter((group) => group.entries.length))
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
  <section class="card" :aria-label="station.name">
    <h2>
      {{ station.label }}
      <button type="button" class="close" :aria-label="t('app.close')" @click="emit('close')">×</button>
    </h2>
    <p class="small soft">{{ station.name }}</p>
    <table v-if="rows.length" class="plain">
      <thead>
        <tr>
          <th></th>
          <th class="number">{{ t('live.here') }}</th>
          <th class="number">{{ t('live.sound') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <td>
            <button
              type="button"
              class="layer"
              :disabled="lanes.includes(row.name)"
              :title="`${t('live.asLane')} (${t(`layer.${row.layer}`)})`"
              @click="emit('lane', row.name)"
            >
              {{ row.label }}
            </button>
          </td>
          <td class="number">{{ row.here }}</td>
          <td class="number soft">{{ row.sound }}</td>
        </tr>
      </tbody>
    </table>
    <template v-for="group in groups" :key="group.label">
      <p class="label">{{ t(`live.${group.label}`) }}</p>
      <div class="buttons" role="group" :aria-label="t(`live.${group.label}`)">
        <button
          v-for="entry in group.entries"
          :key="entry.name"
          type="button"
          :aria-pressed="entry.on"
          @click="emit('act', entry.doing)"
        >
          {{ entry.name }}
        </button>
      </div>
    </template>
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
  color: var(--text-soft);
  cursor: pointer;
}
.layer {
  border: 0;
  background: none;
  color: var(--accent);
  padding: 0;
  text-align: left;
  cursor: pointer;
}
.layer:disabled {
  color: var(--text);
  cursor: default;
}
table.plain :is(th, td) {
  padding-left: 3px;
  padding-right: 3px;
}
.label {
  margin: var(--space-2) 0 0;
}
</style>
