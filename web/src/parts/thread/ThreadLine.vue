<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'
import { placeKnots, threadPath, tracePath, type Knot } from '@/parts/thread/layout'

/** The guiding line with its knots: pick one, and what belongs to it comes forward. */
const props = defineProps<{
  knots: Knot[]
  selected?: string
  label: string
  showVerdict?: boolean
  compact?: boolean
  head?: number
}>()
const emit = defineEmits<{ pick: [id: string] }>()

const HEIGHT = 34
const box = ref<HTMLElement>()
const width = ref(900)
/** Room at both ends, so that the outer labels stay inside. */
const margin = computed(() => Math.min(props.compact ? 84 : 56, width.value / 2 / Math.max(props.knots.length, 1)))
/** Where knots side by side would touch, the thread runs down the page. */
const down = computed(() => width.value / Math.max(props.knots.length, 1) < (props.compact ? 40 : 64))
const placed = computed(() => placeKnots(props.knots.length, width.value, HEIGHT, margin.value))
const path = computed(() => threadPath(placed.value, width.value))
let watcher: ResizeObserver | undefined

onMounted(() => {
  watcher = new ResizeObserver(([entry]) => {
    if (entry) width.value = Math.max(200, entry.contentRect.width)
  })
  if (box.value) watcher.observe(box.value)
})
onBeforeUnmount(() => watcher?.disconnect())

function columnWidth(): string {
  return `${Math.min((width.value - 16) / Math.max(props.knots.length, 1), 2 * margin.value)}px`
}
</script>

<template>
  <div
    ref="box"
    class="thread"
    :class="{ compact, down, traced: knots.some((knot) => knot.trace) }"
    role="group"
    :aria-label="label"
  >
    <svg v-if="!down" class="line" :width="width" :height="HEIGHT" aria-hidden="true">
      <path :d="path" fill="none" stroke="var(--accent)" stroke-width="2.5" />
    </svg>
    <button
      v-for="(knot, k) in knots"
      :key="knot.id"
      type="button"
      class="knot"
      :class="[knot.state, { selected: knot.id === selected }]"
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
          r="6"
          :fill="
            knot.id === selected ? 'var(--accent)' : knot.state === 'done' ? 'var(--accent-pale)' : 'var(--surface)'
          "
          :stroke="knot.state === 'locked' ? 'var(--rule)' : 'var(--accent)'"
          stroke-width="2.5"
        />
      </svg>
      <span v-if="knot.value !== undefined" class="value">
        {{ knot.value }}<span class="unit"> {{ knot.unit }}</span>
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
  margin-left: 3px;
  font-size: var(--text-small);
  font-weight: 400;
  color: var(--text-soft);
}
</style>
