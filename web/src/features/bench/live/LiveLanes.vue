<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { laidOver, type Ghost } from '@/features/bench/live/ghost'
import MarkRibbon from '@/features/bench/live/MarkRibbon.vue'
import type { Line } from '@/features/bench/live/line'
import type { Picture } from '@/features/bench/live/series'
import {
  clamp,
  indexAt,
  LABEL_WIDTH,
  SCALE_WIDTH,
  wheeled,
  windowAt,
  type Lanes,
  type Range,
} from '@/parts/lanes/geometry'
import LaneRow from '@/parts/lanes/LaneRow.vue'
import { useRows } from '@/parts/lanes/rows'

/** Lanes of a running engine: the newest at the right, or any stretch of what was; its sound twin as the thin line. */
const props = defineProps<{
  line: Line
  channels: string[]
  available: string[]
  showTwin: boolean
  ghost?: Ghost
  laneHeight: number
  removable: boolean
  /** Whether nothing may tell what is wrong. */
  secret?: boolean
}>()
const emit = defineEmits<{ remove: [channel: string]; swap: [from: string, to: string] }>()
const { t } = useI18n()

const READING = 170
/** Widths of the view that follows. [s] */
const WIDTHS = [10, 30, 60, 300]
/** While it runs, redrawn once it has moved by so many pixels, and never more often or more seldom than this. [ms] */
const MOVED = 1.5
const SOONEST = 60
const LATEST = 200
const width = ref(30)
const following = ref(true)
const range = shallowRef<Range>([0, 30])
const cursor = ref(0)
/** The other end of a measurement. */
const anchor = ref<number>()
const box = ref<HTMLElement>()
const strokes = ref(400)
/** What was drawn last; all that the lanes show hangs on it, so that they change with the frames and not with every block. */
const picture = shallowRef<Picture & { seconds: number }>({ time: [], lanes: new Map(), seconds: 0 })

function draw() {
  const { series, detail } = props.line
  const end = Math.max(props.line.seconds.value, 0)
  if (following.value) {
    range.value = [Math.max(end - width.value, 0), Math.max(end, width.value)]
    cursor.value = end
  }
  const [from, to] = range.value
  const fine = detail.value
  const covers = fine && fine.length > 1 && fine.start <= from + 0.1 && fine.end * 0.01 >= Math.min(to, end) - 0.1
  const source = covers && !following.value ? fine : series.value
  const drawn = source.picture(from, to, strokes.value)
  picture.value = { ...(props.ghost ? laidOver(drawn, props.ghost) : drawn), seconds: end }
}

/** What is looked at closely is asked for in more points than the whole has. */
let asking: number | undefined
function lookClosely() {
  window.clearTimeout(asking)
  asking = window.setTimeout(() => {
    const [from, to] = range.value
    const { series, seconds } = props.line
    const middle = (from + Math.min(to, seconds.value)) / 2
    if (series.value.grain(middle) > (2 * (to - from)) / strokes.value)
      props.line.askDetail(from, Math.min(to, seconds.value))
  }, 120)
}

/** Drawn with the screen's own frames, and only where something is new: a slow device draws less often instead of falling behind. */
let frame: number | undefined
let pause: number | undefined
let drawnAt = 0
function soon() {
  if (frame !== undefined || pause !== undefined) return
  // A view that is moved follows the hand; one that runs is drawn calmly.
  const early = following.value ? drawnAt + calmly() - performance.now() : 0
  if (early > 0) pause = window.setTimeout(ask, early)
  else ask()
}
function calmly(): number {
  const pixels = 2 * strokes.value
  const pace = props.line.state.pace || 1
  return Math.min(Math.max((MOVED * 1000 * width.value) / (pixels * pace), SOONEST), LATEST)
}
function ask() {
  pause = undefined
  frame = window.requestAnimationFrame((time) => {
    frame = undefined
    drawnAt = time
    draw()
  })
}
/** Where it follows, the range comes from drawing and asks for none. */
const held = () => (following.value ? undefined : range.value)
watch([props.line.beat, held, width, strokes, () => props.channels, () => props.showTwin, () => props.ghost], soon)

let sizes: ResizeObserver | undefined
onMounted(() => {
  soon()
  sizes = new ResizeObserver(() => {
    const inner = (box.value?.clientWidth ?? 900) - LABEL_WIDTH - READING - SCALE_WIDTH
    strokes.value = Math.max(Math.round(inner / 2), 100)
  })
  if (box.value) sizes.observe(box.value)
})
onBeforeUnmount(() => {
  if (frame !== undefined) window.cancelAnimationFrame(frame)
  window.clearTimeout(pause)
  window.clearTimeout(asking)
  sizes?.disconnect()
})

/** Where which condition was, as far as it is in sight; the newest goes on to the edge. */
const windows = computed(() =>
  props.line.spells.value
    .filter((spell) => spell.end > range.value[0] && spell.start < range.value[1])
    .map((spell) => ({ ...spell, end: Math.max(spell.end, spell.start + 0.1), closed_loop: true })),
)
/** Verdicts are on what runs now: they stand only beside the newest. */
const condition = computed(() =>
  following.value ? props.line.now.value?.condition : windowAt(windows.value, cursor.value)?.condition,
)

/** As the lanes of a recording, for the parts that draw those. */
const lanes = computed<Lanes>(() => ({
  time: picture.value.time,
  lanes: Object.fromEntries(picture.value.lanes),
  quantities: props.line.quantities.value,
  windows: windows.value,
  segments: [],
  seconds: picture.value.seconds,
  readings: props.line.readings.value,
  bands: props.line.bands.value,
  codes: [],
  sound_alarms: null,
}))
const { rows, here } = useRows(
  () => lanes.value,
  () => props.channels,
  () => props.showTwin,
  () => props.available,
)
const index = computed(() => (picture.value.time.length ? indexAt(picture.value.time, cursor.value) : 0))

const explained = ref('')
function hereAt(name: string) {
  const found = here(name, condition.value ?? undefined)
  return following.value ? found : { band: found.band }
}

function moveCursor(time: number) {
  if (following.value) return
  cursor.value = time
}

function zoom(next: Range) {
  following.value = false
  range.value = clamp(next, Math.max(props.line.seconds.value, 1))
  cursor.value = Math.min(Math.max(cursor.value, range.value[0]), range.value[1])
  lookClosely()
}

function follow(seconds = width.value) {
  width.value = seconds
  following.value = true
  anchor.value = undefined
}

function whole() {
  zoom([0, Math.max(props.line.seconds.value, 1)])
}

/** Stop following where it is, so that cursor and zoom can be used. */
function hold() {
  if (!following.value) return follow()
  following.value = false
  lookClosely()
}

function onKey(event: KeyboardEvent) {
  if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return
  const span = range.value[1] - range.value[0]
  const step = (span / 100) * (event.shiftKey ? 10 : 1)
  const keys: Record<string, () => void> = {
    ArrowLeft: () => jump(cursor.value - step),
    ArrowRight: () => jump(cursor.value + step),
    '+': () => zoom([cursor.value - span / 4, cursor.value + span / 4]),
    '-': () => zoom([cursor.value - span, cursor.value + span]),
    '0': whole,
    l: () => follow(),
    a: () => (anchor.value = anchor.value === undefined ? cursor.value : undefined),
  }
  const action = keys[event.key]
  if (!action) return
  action()
  event.preventDefault()
}

function onWheel(event: WheelEvent) {
  const next = wheeled(range.value, event)
  if (!next) return
  event.preventDefault()
  zoom(next)
}

function jump(time: number) {
  following.value = false
  cursor.value = Math.min(Math.max(time, 0), props.line.seconds.value)
  const [from, to] = range.value
  if (cursor.value < from || cursor.value > to) zoom([cursor.value - (to - from) / 2, cursor.value + (to - from) / 2])
}

/** Between the two cursors: time, and the change of each lane. */
const measured = computed(() => {
  if (anchor.value === undefined || following.value) return undefined
  const at = indexAt(picture.value.time, anchor.value)
  return {
    seconds: cursor.value - anchor.value,
    lanes: rows.value.map((row) => {
      const values = lanes.value.lanes[row.channel.id]?.run ?? []
      const [a, b] = [values[at], values[index.value]]
      // A difference of temperatures has no offset: both ends are worded, not their difference.
      return { label: row.channel.label, from: row.say(a), to: row.say(b), unit: row.unit }
    }),
  }
})
defineExpose({ range })
</script>

<template>
  <section
    ref="box"
    class="stack"
    tabindex="0"
    :aria-label="t('bench.lanes')"
    @keydown="onKey"
    @wheel="onWheel"
    @pointerdown.capture="(event) => event.pointerType === 'touch' && (following = false)"
  >
    <div class="bar">
      <span class="steps" role="group" :aria-label="t('live.view')">
        <button
          v-for="seconds in WIDTHS"
          :key="seconds"
          type="button"
          :class="{ on: following && width === seconds }"
          @click="follow(seconds)"
        >
          {{ seconds < 120 ? `${seconds} s` : `${seconds / 60} min` }}
        </button>
        <button type="button" @click="whole">{{ t('live.whole') }}</button>
        <button type="button" :class="{ on: !following }" @click="hold">
          {{ t(following ? 'live.holdStill' : 'live.follow') }}
        </button>
        <button
          type="button"
          :class="{ on: anchor !== undefined }"
          :disabled="following"
          :title="t('live.measureMeans')"
          @click="anchor = anchor === undefined ? cursor : undefined"
        >
          {{ t('live.measure') }}
        </button>
      </span>
      <span class="soft small at">{{
        following ? t('live.newest') : t('lanes.atCursor', { time: cursor.toFixed(2) })
      }}</span>
      <span v-if="showTwin" class="legend small soft">
        <i class="thin"></i>{{ ghost ? ghost.name : t('live.twin') }} <i class="strong"></i>{{ t('bench.faulty') }}
      </span>
    </div>
    <LaneRow
      v-for="row in rows"
      :key="row.channel.id"
      :row="row"
      :lanes="lanes"
      :here="hereAt(row.channel.id)"
      :range="range"
      :cursor="cursor"
      :index="index"
      :height="laneHeight"
      :removable="removable"
      :explained="explained === row.channel.id"
      :reading-width="READING"
      :good-word="ghost ? t('live.record.short') : t('live.twinShort')"
      @explain="explained = explained === row.channel.id ? '' : row.channel.id"
      @cursor="moveCursor"
      @range="zoom"
      @remove="emit('remove', row.channel.id)"
      @swap="(to) => emit('swap', row.channel.id, to)"
    />
    <MarkRibbon
      :events="line.events.value"
      :range="range"
      :reading-width="READING"
      :plot-width="2 * strokes"
      :secret="secret"
      @jump="jump"
    />
    <div v-if="measured" class="measured small" aria-live="polite">
      <b>{{ t('lanes.difference', { time: measured.seconds.toFixed(2) }) }}</b>
      <span v-for="lane in measured.lanes" :key="lane.label">
        {{ lane.label }} {{ lane.from }} → {{ lane.to }} {{ lane.unit }}
      </span>
    </div>
  </section>
</template>

<style scoped>
.stack {
  container-type: inline-size;
  outline-offset: -2px;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px var(--space-3);
  padding-bottom: 6px;
  border-bottom: 1px solid var(--rule);
}
.steps {
  display: flex;
  flex-wrap: wrap;
}
.steps button {
  border: 1px solid var(--rule);
  margin-right: -1px;
  background: var(--surface);
  color: var(--text);
  padding: 2px 8px;
  font-size: 12px;
  cursor: pointer;
}
.steps button.on {
  background: var(--surface-strong);
  font-weight: 600;
}
.steps button:disabled {
  color: var(--text-faint);
  cursor: default;
}
.at {
  min-width: 110px;
}
.legend {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 6px;
}
.legend i {
  width: 22px;
  border-top: 1px solid var(--text-soft);
  margin-left: 8px;
}
.legend .strong {
  border-top: 2.5px solid var(--text);
}
.measured {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--space-4);
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
</style>
