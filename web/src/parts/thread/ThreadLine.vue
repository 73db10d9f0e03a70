<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'
import { placeBranches, placeKnots, threadPath, tracePath, type Branch, type Knot } from '@/parts/thread/layout'

/** The guiding line with its knots: pick one, and what belongs to it comes forward. */
const props = defineProps<{
  knots: Knot[]
  selected?: string
  label: string
  showVerdict?: boolean
  compact?: boolean
  head?: number
  /** What joins the thread from the side. */
  branches?: Branch[]
}>()
const emit = defineEmits<{ pick: [id: string] }>()

const HEIGHT = 34
const box = ref<HTMLElement>()
const width = ref(900)
/** Where there is little room, places without a sensor give theirs to the others. */
const inSight = computed(() =>
  width.value / Math.max(props.knots.length, 1) < 64 ? props.knots.filter((knot) => !knot.minor) : props.knots,
)
/** Room at both ends, so that the outer labels stay inside. */
const margin = computed(() => Math.min(props.compact ? 84 : 56, width.value / 2 / Math.max(inSight.value.length, 1)))
/** Where knots side by side would touch, the thread runs down the page. */
const down = computed(() => width.value / Math.max(inSight.value.length, 1) < (props.compact ? 40 : 64))
const placed = computed(() => placeKnots(inSight.value.length, width.value, HEIGHT, margin.value))
const path = computed(() => threadPath(placed.value, width.value))
const ROOM = 104
const RISE = 18
const joined = computed(() =>
  placeBranches(
    props.branches ?? [],
    inSight.value.map((knot, k) => ({ id: knot.id, x: placed.value[k]?.x ?? 0 })),
    width.value,
    ROOM,
  ),
)
/** From its word along under the row of words, then down to the thread between the labels of two knots. */
function branchPath(x: number, join: number): string {
  const gap = ((placed.value[1]?.x ?? 0) - (placed.value[0]?.x ?? 0)) / 2
  const end = join - gap
  const bend = Math.min(6, Math.abs(end - x) / 2) * Math.sign(end - x)
  const under = RISE + 2
  return `M${x} ${RISE - 3} Q${x} ${under} ${x + bend} ${under} L${end - bend} ${under} Q${end} ${under} ${end} ${under + 6} L${end} ${RISE + 20 + HEIGHT / 2}`
}
let watcher: ResizeObserver | undefined

onMounted(() => {
  watcher = new ResizeObserver(([entry]) => {
    if (entry) width.value = Math.max(200, entry.contentRect.width)
  })
  if (box.value) watcher.observe(box.value)
})
onBeforeUnmount(() => watcher?.disconnect())

function columnWidth(): string {
  return `${Math.min((width.value - 16) / Math.max(inSight.value.length, 1), 2 * margin.value)}px`
}
</script>

<template>
  <div
    ref="box"
    class="thread"
    :class="{ compact, down, traced: inSight.some((knot) => knot.trace), branched: joined.length && !down }"
    role="group"
    :aria-label="label"
  >
    <svg v-if="!down" class="line" :width="width" :height="HEIGHT" aria-hidden="true">
      <path :d="path" fill="none" stroke="var(--accent)" stroke-width="2.5" />
    </svg>
    <svg v-if="joined.length && !down" class="joins" :width="width" :height="RISE + 22 + HEIGHT / 2" aria-hidden="true">
      <path
        v-for="branch in joined"
        :key="branch.id"
        :d="branchPath(branch.x, branch.join)"
        fill="none"
        stroke="var(--accent)"
        stroke-width="1.3"
        :stroke-dasharray="branch.note ? '2 3' : undefined"
      />
    </svg>
    <button
      v-for="branch in joined"
      :key="branch.id"
      type="button"
      class="branch narrow"
      :class="{ selected: branch.id === selected }"
      :style="down ? {} : { left: `${branch.x}px`, maxWidth: `${ROOM}px` }"
      :aria-pressed="branch.id === selected"
      :title="branch.sub"
      @click="emit('pick', branch.id)"
    >
      {{ branch.label }}<span v-if="branch.note" class="alarm">, {{ branch.note }}</span>
    </button>
    <button
      v-for="(knot, k) in inSight"
      :key="knot.id"
      type="button"
      class="knot"
      :class="[knot.state, { selected: knot.id === selected, minor: knot.minor }]"
      :style="down ? {} : { left: `${placed[k]?.x}px`, width: columnWidth() }"
      :disabled="knot.state === 'locked'"
      :aria-pressed="knot.id === selected"
      :title="knot.sub"
      @click="emit('pick', knot.id)"
    >
      <span class="term narrow">{{ knot.label }}</span>
      <svg class="dot" width="22" :height="HEIGHT" :viewBox="`-11 0 22 ${HEIGHT}`" aria-hidden="true">
        <circle
          cx="0"
          :cy="down ? HEIGHT / 2 : placed[k]?.y"
          :r="knot.minor ? 3.5 : 6"
          :fill="
            knot.id === selected ? 'var(--accent)' : knot.state === 'done' ? 'var(--accent-pale)' : 'var(--surface)'
          "
          :stroke="knot.state === 'locked' ? 'var(--rule)' : 'var(--accent)'"
          stroke-width="2.5"
        />
      </svg>
      <span v-if="knot.value !== undefined" class="value">
        {{ knot.value }} <span class="unit">{{ knot.unit }}</span>
      </span>
      <span v-if="knot.note" class="note narrow" :class="{ alarm: knot.alarm }">{{ knot.note }}</span>
      <svg v-if="knot.trace" class="trace" width="112" height="76" viewBox="0 0 112 76" aria-hidden="true">
        <path d="M0.5 0V75.5H112" fill="none" stroke="var(--rule)" />
        <path
          :d="tracePath(knot.trace, head ?? knot.trace.length, 112, 74, knot.traceSpan ?? 0)"
          fill="none"
          :stroke="`var(--${knot.family})`"
          stroke-width="1.4"
        />
      </svg>
      <VerdictMark v-if="knot.verdict && showVerdict" :kind="knot.verdict" class="small" />
    </button>
  </div>
</template>

<style scoped>
.thread {
  position: relative;
  height: 92px;
}

.thread.traced {
  height: 176px;
}
.trace {
  margin: 5px 0 2px;
}
.thread.compact {
  height: 58px;
}
.line {
  position: absolute;
  top: 20px;
  left: 0;
}
.thread.branched {
  height: 112px;
}
.branched .line {
  top: 38px;
}
.branched .knot {
  top: 18px;
}
.joins {
  position: absolute;
  top: 0;
  left: 0;
  pointer-events: none;
}
.branch {
  position: absolute;
  top: -2px;
  transform: translateX(-50%);
  border: 0;
  background: none;
  color: var(--text-soft);
  font-size: 12px;
  line-height: 18px;
  padding: 0 3px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  cursor: pointer;
}
.branch.selected {
  color: var(--accent);
  font-weight: 600;
}
.branch .alarm {
  color: var(--text);
  font-weight: 600;
}
.minor .term {
  font-weight: 400;
  color: var(--text-soft);
}
.minor.selected .term {
  color: var(--accent);
}
.minor .value {
  font-weight: 400;
  font-size: 13px;
}
.down .branch {
  position: static;
  transform: none;
}
.knot {
  position: absolute;
  top: 0;
  transform: translateX(-50%);
  display: flex;
  flex-direction: column;
  align-items: center;
  border: 0;
  background: none;
  color: var(--text);
  padding: 0 2px;
  cursor: pointer;
}
.knot:disabled {
  cursor: default;
  color: var(--text-faint);
}
.term {
  height: 20px;
  font-weight: 500;
  font-size: 13px;
  white-space: nowrap;
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
}
.selected .term {
  color: var(--accent);
}
.dot {
  display: block;
}
.value {
  font-size: 15px;
  font-weight: 600;
  line-height: 1.2;
  white-space: nowrap;
}
.note {
  font-size: 11px;
  line-height: 15px;
  padding: 0 4px;
  color: var(--text-soft);
  white-space: nowrap;
}
.note.alarm {
  color: var(--text);
  border: 1px dashed var(--suspect);
  font-weight: 500;
}
.thread.down,
.thread.down.traced {
  height: auto;
}
.down .knot {
  position: relative;
  transform: none;
  flex-direction: row;
  gap: var(--space-2);
  width: 100%;
  background: linear-gradient(var(--accent), var(--accent)) 11.75px 0 / 2.5px 100% no-repeat;
}
.down .dot {
  order: -1;
}
.down .trace {
  flex: 0 1 112px;
  min-width: 0;
}
.down .term {
  flex: 0 0 84px;
  text-align: left;
  height: auto;
}
.down .value {
  flex: 0 0 84px;
  text-align: right;
}
.unit {
  font-size: var(--text-small);
  font-weight: 400;
  color: var(--text-soft);
}
</style>
