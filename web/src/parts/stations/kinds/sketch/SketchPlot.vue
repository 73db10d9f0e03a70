<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { inOne, useTold } from '@/api/told'
import { converter, tickText, unitWithReference } from '@/format/units'
import { pathOf, scaleOf } from '@/parts/explorer/axis'

/** A trace over time: the sound engine's, the sketch over it, and, where it is known, what came. */
const props = defineProps<{
  trace: Schemas['SketchTrace']
  drawn: (number | null)[]
  faulty?: (number | null)[]
  tolerance?: number
  right?: (number | null)[]
  /** It can be drawn on. */
  open?: boolean
}>()
const emit = defineEmits<{ draw: [drawn: (number | null)[]] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()
const { told } = useTold()
const W = 720
const H = 260
const LEFT = 58
const RIGHT = 10
const TOP = 10
const BOTTOM = 30

const quantity = computed(() => quantities.value.get(props.trace.quantity))
const toY = computed(() => converter(quantity.value, units.value))
const x = computed(() => scaleOf(props.trace.seconds, LEFT, W - RIGHT))
const y = computed(() => scaleOf([props.trace.low, props.trace.high].map(toY.value), H - BOTTOM, TOP))
const at = (value: number) => y.value.at(toY.value(value))

function line(times: number[], values: (number | null)[]): string {
  const known = times.flatMap((time, k) => (values[k] === null || values[k] === undefined ? [] : [[time, values[k]]]))
  return pathOf(
    known.map(([time]) => x.value.at(time!)),
    known.map(([, value]) => at(value!)),
  )
}
const clip = (value: number) => Math.min(Math.max(value, props.trace.low), props.trace.high)
const knots = computed(() => props.trace.knots.map((time, k) => ({ time, value: props.drawn[k] ?? null })))
const step = computed(() => Math.max((props.trace.high - props.trace.low) / 60, props.trace.step))
const say = (value: number | null) => {
  if (value === null) return t('stations.sketch.empty')
  return inOne(told(value, props.trace.quantity, props.trace.digits))
}

// --- drawing ---
const plot = ref<SVGSVGElement>()
const drawing = ref(false)

function valueAt(event: PointerEvent): { k: number; value: number } | undefined {
  const box = plot.value?.getBoundingClientRect()
  if (!box?.width) return undefined
  const px = ((event.clientX - box.left) / box.width) * W
  const py = ((event.clientY - box.top) / box.height) * H
  const far = knots.value.map((knot) => Math.abs(x.value.at(knot.time) - px))
  const share = (H - BOTTOM - py) / (H - BOTTOM - TOP)
  return {
    k: far.indexOf(Math.min(...far)),
    value: clip(props.trace.low + share * (props.trace.high - props.trace.low)),
  }
}
/** The knots between the last one and this lie on the line between them: a quick hand leaves none out. */
let before: { k: number; value: number } | undefined
function move(event: PointerEvent) {
  if (!props.open || !drawing.value) return
  const here = valueAt(event)
  if (!here) return
  const from = before ?? here
  const next = knots.value.map((knot) => knot.value)
  const [low, high] = [Math.min(from.k, here.k), Math.max(from.k, here.k)]
  for (let k = low; k <= high; k += 1) {
    const share = here.k === from.k ? 1 : (k - from.k) / (here.k - from.k)
    next[k] = from.value + share * (here.value - from.value)
  }
  before = here
  emit('draw', next)
}
function begin(event: PointerEvent) {
  if (!props.open) return
  drawing.value = true
  before = undefined
  plot.value?.setPointerCapture(event.pointerId)
  move(event)
}
function nudge(k: number, by: number) {
  const near = knots.value.find((knot, j) => Math.abs(j - k) === 1 && knot.value !== null)?.value
  const from = knots.value[k]?.value ?? near ?? 0.5 * (props.trace.low + props.trace.high)
  emit(
    'draw',
    knots.value.map((knot, j) => (j === k ? clip(from + by) : knot.value)),
  )
}
const KEYS: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, PageUp: 5, PageDown: -5 }
function onKey(event: KeyboardEvent, k: number) {
  const by = KEYS[event.key]
  if (by === undefined) return
  event.preventDefault()
  nudge(k, by * step.value)
}
</script>

<template>
  <div class="frame">
    <svg
      ref="plot"
      :viewBox="`0 0 ${W} ${H}`"
      :class="{ open }"
      role="group"
      :aria-label="t('stations.sketch.plot', { label: trace.label, what: trace.condition_label })"
      @pointerdown="begin"
      @pointermove="move"
      @pointerup="drawing = false"
      @pointercancel="drawing = false"
    >
      <g v-for="tick in y.ticks" :key="tick" class="grid">
        <line :x1="LEFT" :x2="W - RIGHT" :y1="y.at(tick)" :y2="y.at(tick)" />
        <text :x="LEFT - 7" :y="y.at(tick) + 4" text-anchor="end">{{ tickText(tick) }}</text>
      </g>
      <text :x="4" :y="TOP + 8" class="unit">{{ unitWithReference(quantity, units) }}</text>
      <g v-for="tick in x.ticks" :key="`t${tick}`" class="grid">
        <text :x="x.at(tick)" :y="H - 9" text-anchor="middle">{{ tick }} s</text>
      </g>
      <template v-if="right && tolerance">
        <template v-for="(value, k) in right" :key="`r${k}`">
          <line
            v-if="value !== null"
            class="accepted"
            :x1="x.at(trace.knots[k]!)"
            :x2="x.at(trace.knots[k]!)"
            :y1="at(clip(value - tolerance))"
            :y2="at(clip(value + tolerance))"
          />
        </template>
      </template>
      <path class="sound" :d="line(trace.seconds, trace.sound)" />
      <path
        v-if="faulty"
        class="faulty"
        :d="
          line(
            trace.seconds,
            faulty.map((v) => (v === null ? null : clip(v))),
          )
        "
      />
      <path class="drawn" :d="line(trace.knots, drawn)" />
      <template v-for="(knot, k) in knots" :key="k">
        <circle
          v-if="open"
          class="knot"
          :class="{ unset: knot.value === null }"
          :cx="x.at(knot.time)"
          :cy="knot.value === null ? H - BOTTOM : at(knot.value)"
          r="6"
          tabindex="0"
          role="slider"
          aria-orientation="vertical"
          :aria-label="t('stations.sketch.knot', { label: trace.label, time: knot.time.toFixed(1) })"
          :aria-valuemin="toY(trace.low)"
          :aria-valuemax="toY(trace.high)"
          :aria-valuenow="toY(knot.value ?? trace.low)"
          :aria-valuetext="say(knot.value)"
          @keydown="onKey($event, k)"
        />
        <circle v-else-if="knot.value !== null" class="dot" :cx="x.at(knot.time)" :cy="at(knot.value)" r="3.5" />
      </template>
    </svg>
    <p class="legend small soft">
      <span><i class="sound"></i>{{ t('stations.sketch.sound') }}</span>
      <span><i class="drawn"></i>{{ t('stations.sketch.drawn') }}</span>
      <span v-if="faulty"><i class="faulty"></i>{{ t('stations.sketch.faulty') }}</span>
      <span v-if="right && tolerance"><i class="accepted"></i>{{ t('stations.sketch.accepted') }}</span>
    </p>
  </div>
</template>

<style scoped>
.frame {
  max-width: 860px;
}
svg {
  display: block;
  width: 100%;
  border-bottom: 1px solid var(--text);
  border-top: 1px solid var(--rule);
}
svg.open {
  cursor: crosshair;
  touch-action: none;
  user-select: none;
}
.grid line {
  stroke: var(--rule);
}
text {
  font-size: 11.5px;
  fill: var(--text-soft);
}
path {
  fill: none;
  stroke-linejoin: round;
}
path.sound {
  stroke: var(--text-soft);
  stroke-width: 1.2;
}
path.drawn {
  stroke: var(--accent);
  stroke-width: 2.4;
  stroke-dasharray: 7 3;
}
path.faulty {
  stroke: var(--text);
  stroke-width: 2.4;
}
line.accepted {
  stroke: var(--edge);
  stroke-width: 9;
}
.knot {
  fill: var(--surface);
  stroke: var(--accent);
  stroke-width: 2.4;
}
.knot.unset {
  stroke-dasharray: 3 2;
}
.knot:focus-visible {
  fill: var(--accent);
  outline: 2px solid var(--accent);
  outline-offset: 2px;
}
.dot {
  fill: var(--accent);
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--space-4);
  margin: 6px 0 0;
}
.legend i {
  display: inline-block;
  width: 22px;
  margin-right: 6px;
  vertical-align: middle;
  border-top: 1.4px solid var(--text-soft);
}
.legend i.drawn {
  border-top: 2.4px dashed var(--accent);
}
.legend i.faulty {
  border-top: 2.6px solid var(--text);
}
.legend i.accepted {
  border-top: 8px solid var(--edge);
}
</style>
