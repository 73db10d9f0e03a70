<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { units } from '@/api/session'
import { converter, tickText, unitWithReference } from '@/format/units'
import { pathOf, scaleOf } from '@/parts/explorer/axis'
import type { Shown } from '@/parts/explorer/useDrawing'

/** Signals in time, one lane each on a common time axis; `beside`: those of others, lane by lane, on the same axes. */
const props = defineProps<{ traces: Shown['traces']; beside?: Shown['traces'][] }>()
const { quantities } = useCatalogue()
const W = 420
const LANE = 84
const LEFT = 44
const RIGHT = 10
const LEAST: Record<string, number> = { voltage: 1, lambda: 0.3, trim: 8 }
const x = computed(() => scaleOf(props.traces[0]?.seconds ?? [0, 1], LEFT, W - RIGHT))
const lanes = computed(() =>
  props.traces.map((trace, k) => {
    const quantity = quantities.value.get(trace.quantity)
    const values = trace.values.map(converter(quantity, units.value))
    const top = k * LANE + 18
    const others = (props.beside ?? []).flatMap((traces) => traces[k]?.values ?? [])
    const among = [...values, ...others.map(converter(quantity, units.value))]
    const y = scaleOf(among, top + LANE - 26, top, LEAST[trace.quantity] ?? 0)
    return {
      ...trace,
      y,
      top,
      unit: unitWithReference(quantity, units.value),
      path: pathOf(trace.seconds.map(x.value.at), values.map(y.at)),
    }
  }),
)
const height = computed(() => props.traces.length * LANE + 22)
</script>

<template>
  <svg
    v-if="lanes.length"
    :viewBox="`0 0 ${W} ${height}`"
    role="img"
    :aria-label="lanes.map((lane) => lane.label).join(', ')"
  >
    <g v-for="tick in x.ticks" :key="tick">
      <path :d="`M${x.at(tick)} 12V${height - 20}`" class="grid" />
      <text :x="x.at(tick)" :y="height - 6" text-anchor="middle">{{ tickText(tick) }}</text>
    </g>
    <text :x="LEFT - 6" :y="height - 6" text-anchor="end">s</text>
    <g v-for="lane in lanes" :key="lane.id">
      <g v-for="tick in lane.y.ticks" :key="tick">
        <path :d="`M${LEFT} ${lane.y.at(tick)}H${W - RIGHT}`" class="grid" />
        <text :x="LEFT - 6" :y="lane.y.at(tick) + 4" text-anchor="end">{{ tickText(tick) }}</text>
      </g>
      <text :x="LEFT + 2" :y="lane.top - 5" class="name">{{ lane.label }} {{ lane.unit && `[${lane.unit}]` }}</text>
      <path :d="lane.path" class="line" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
}
text {
  font-size: 11px;
  fill: var(--text-soft);
}
.name {
  fill: var(--text);
  font-weight: 600;
}
.grid {
  stroke: var(--surface-strong);
}
.line {
  fill: none;
  stroke: var(--oxygen);
  stroke-width: 1.6;
}
</style>
