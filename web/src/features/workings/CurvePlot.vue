<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { tickText } from '@/format/units'

/** A result over one of its inputs, with the point that was worked out. */
const props = defineProps<{ curve: Schemas['CurveOut']; at: number }>()

const W = 420
const H = 210
const LEFT = 62
const BOTTOM = 34
/** How the three numbers under the axis stand to their places. */
const ENDS = ['start', 'middle', 'end'] as const
const scale = (values: number[]) => {
  const low = Math.min(...values)
  const high = Math.max(...values)
  return { low, span: high - low || Math.abs(high) || 1 }
}
const x = computed(() => scale(props.curve.given))
const y = computed(() => scale(props.curve.result))
const px = (value: number) => LEFT + ((value - x.value.low) / x.value.span) * (W - LEFT - 10)
const py = (value: number) => H - BOTTOM - ((value - y.value.low) / y.value.span) * (H - BOTTOM - 10)
const path = computed(() =>
  props.curve.given.map((value, k) => `${k ? 'L' : 'M'}${px(value)} ${py(props.curve.result[k] ?? 0)}`).join(''),
)
const ticks = ({ low, span }: { low: number; span: number }) =>
  [low, low + span / 2, low + span].map((value) => Number(value.toPrecision(4)))
const nearest = computed(() => {
  const { given, result } = props.curve
  const k = given.findIndex((value) => value >= props.at)
  const at = k < 0 ? given.length - 1 : k
  return { x: px(given[at] ?? 0), y: py(result[at] ?? 0) }
})
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`${curve.result_label}, ${curve.label}`">
      <g v-for="tick in ticks(y)" :key="`y${tick}`">
        <path :d="`M${LEFT} ${py(tick)}H${W - 10}`" stroke="var(--rule)" />
        <text :x="LEFT - 6" :y="py(tick) + 4" text-anchor="end">{{ tickText(tick) }}</text>
      </g>
      <g v-for="(tick, k) in ticks(x)" :key="`x${tick}`">
        <text :x="px(tick)" :y="H - BOTTOM + 16" :text-anchor="ENDS[k]">{{ tickText(tick) }}</text>
      </g>
      <path :d="path" fill="none" stroke="var(--accent)" stroke-width="2" />
      <circle :cx="nearest.x" :cy="nearest.y" r="5" fill="var(--surface)" stroke="var(--accent)" stroke-width="2.5" />
    </svg>
    <figcaption class="small soft">
      {{ curve.result_label }} {{ curve.result_unit && `[${curve.result_unit}]` }} / {{ curve.label }}
      {{ curve.unit && `[${curve.unit}]` }}
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  max-width: 460px;
}
svg {
  width: 100%;
}
text {
  font-size: 11px;
  fill: var(--text-soft);
}
</style>
