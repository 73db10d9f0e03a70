<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { around, clamp, type Lanes, type Range, type Window } from '@/parts/lanes/geometry'

/** The drive script under the lanes: what happens when, and the conditions in which values are read. */
const props = defineProps<{ lanes: Lanes; range: Range; cursor: number }>()
const emit = defineEmits<{ range: [range: Range]; cursor: [time: number] }>()
const { t } = useI18n()

const span = computed(() => props.range[1] - props.range[0])

function place(start: number, end: number): Record<string, string> {
  const left = Math.max(0, (start - props.range[0]) / span.value)
  const right = Math.min(1, (end - props.range[0]) / span.value)
  return { left: `${left * 100}%`, width: `${Math.max(0, right - left) * 100}%` }
}

function visible(start: number, end: number): boolean {
  return end > props.range[0] && start < props.range[1]
}

const box = ref<HTMLElement>()
const width = ref(570)
let sizes: ResizeObserver | undefined
onMounted(() => {
  sizes = new ResizeObserver(() => (width.value = box.value?.clientWidth || width.value))
  if (box.value) sizes.observe(box.value)
})
onBeforeUnmount(() => sizes?.disconnect())

/** A stretch is labelled only where its name, and what follows it, has room. */
function hasRoom(start: number, end: number, label: string, behind = 0): boolean {
  const share = (Math.min(end, props.range[1]) - Math.max(start, props.range[0])) / span.value
  return share * width.value > (label.length + behind) * 5.6 + 8
}

const ticks = computed(() => {
  const steps = [0.5, 1, 2, 5, 10, 20, 50, 100]
  const step = steps.find((s) => span.value / s <= 7) ?? 100
  // A label right at the edge would be cut: the first one keeps its distance, unless the script begins there.
  const from = props.range[0] > 0 ? props.range[0] + span.value * 0.03 : 0
  const first = Math.ceil(from / step) * step
  return Array.from(
    { length: Math.floor((props.range[1] - first) / step) + 1 },
    (_, k) => +(first + k * step).toFixed(2),
  )
})

function pick(window: Window) {
  emit('range', clamp(around(window, props.lanes.seconds), props.lanes.seconds))
  emit('cursor', (window.start + window.end) / 2)
}
</script>

<template>
  <div ref="box" class="ribbon">
    <div class="row segments">
      <span
        v-for="segment in lanes.segments.filter((s) => visible(s.start, s.end))"
        :key="segment.start"
        class="segment narrow"
        :class="{ lapse: segment.time_lapse > 1 }"
        :style="place(segment.start, segment.end)"
        :title="segment.label + (segment.time_lapse > 1 ? '. ' + t('lanes.lapseLong', { n: segment.time_lapse }) : '')"
      >
        <template v-if="hasRoom(segment.start, segment.end, segment.label, segment.time_lapse > 1 ? 4 : 0)">{{
          segment.label
        }}</template>
        <b v-if="segment.time_lapse > 1 && hasRoom(segment.start, segment.end, '', 3)">
          {{ t('lanes.lapse', { n: segment.time_lapse }) }}</b
        >
      </span>
    </div>
    <div class="row windows">
      <button
        v-for="window in lanes.windows.filter((w) => visible(w.start, w.end))"
        :key="window.condition"
        type="button"
        class="window narrow"
        :class="{ here: cursor >= window.start && cursor <= window.end }"
        :style="place(window.start, window.end)"
        :title="window.label"
        :aria-label="window.label"
        @click="pick(window)"
      >
        <template v-if="hasRoom(window.start, window.end, window.label)">{{ window.label }}</template>
      </button>
    </div>
    <div class="row ticks">
      <span v-for="tick in ticks" :key="tick" :style="{ left: `${((tick - range[0]) / span) * 100}%` }"
        >{{ tick }} s</span
      >
    </div>
    <i
      v-if="cursor >= range[0] && cursor <= range[1]"
      class="cursor"
      :style="{ left: `${((cursor - range[0]) / span) * 100}%` }"
    ></i>
  </div>
</template>

<style scoped>
.ribbon {
  position: relative;
  font-size: 11px;
}
.row {
  position: relative;
  height: 20px;
}
.segment,
.window {
  position: absolute;
  top: 0;
  bottom: 1px;
  overflow: hidden;
  white-space: nowrap;
  padding: 1px 3px;
  line-height: 17px;
}
.segment {
  border-left: 1px solid var(--rule);
  background: var(--surface-sunk);
  color: var(--text-soft);
}
.segment.lapse {
  background: repeating-linear-gradient(135deg, var(--surface-sunk) 0 6px, var(--surface-strong) 6px 12px);
}
.window {
  border: 1px solid var(--accent);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  text-align: left;
}
.window.here {
  background: var(--accent);
  color: var(--surface);
}
.ticks {
  height: 16px;
  color: var(--text-soft);
}
.ticks span {
  position: absolute;
  transform: translateX(-50%);
  white-space: nowrap;
}
.ticks span:first-child {
  transform: none;
}
.cursor {
  position: absolute;
  top: 0;
  bottom: 14px;
  width: 1px;
  background: var(--text);
  pointer-events: none;
}
</style>
