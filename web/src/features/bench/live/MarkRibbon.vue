<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { FRAME } from '@/features/bench/live/series'
import type { Happened } from '@/features/bench/live/line'
import { LABEL_WIDTH, SCALE_WIDTH, type Range } from '@/parts/lanes/geometry'

/** What was done, under the lanes at its time; several that belong together stand as one. */
const props = defineProps<{
  events: Happened[]
  range: Range
  readingWidth: number
  /** Of what lies between the two scales. [px] */
  plotWidth: number
  /** Whether nothing may tell what is wrong: what was broken and mended is left out. */
  secret?: boolean
}>()
const emit = defineEmits<{ jump: [time: number] }>()
const { t } = useI18n()

const ROWS = 3
/** Actions of one kind within this time are one mark: a pedal or a size that is dragged. [s] */
const TOGETHER = 1.5

interface Mark {
  time: number
  words: string
  left: number
  row: number
  /** At the right edge the words stand before their line. */
  turned: boolean
  passes: boolean
}

/** Tells what is wrong. */
const TELLING = ['put_fault', 'size_fault', 'take_fault']
/** Time that was not seen, or ran otherwise, is marked as such. */
const PASSES = ['stand', 'settle_memory', 'lapse_time', 'pass_months']

const marks = computed<Mark[]>(() => {
  const [from, to] = props.range
  const span = Math.max(to - from, 0.1)
  const found: Mark[] = []
  const ends = Array<number>(ROWS).fill(-1)
  let before: { do: string; name: unknown; time: number } | undefined
  for (const event of props.events) {
    const time = event.frame * FRAME
    const same =
      before && before.do === event.doing.do && before.name === event.doing.name && time - before.time < TOGETHER
    before = { do: event.doing.do, name: event.doing.name, time }
    if (time < from || time > to || (props.secret && TELLING.includes(event.doing.do))) continue
    const words = event.words
    if (same && found.length) {
      found[found.length - 1]!.words = words
      continue
    }
    const left = (time - from) / span
    // A letter takes about so many pixels.
    const wide = (words.length * 4.8 + 12) / props.plotWidth
    const turned = left + wide > 1 && left > 0.5
    const start = turned ? left - wide : left
    const row = ends.findIndex((end) => end < start)
    if (row >= 0) ends[row] = start + wide
    found.push({ time, words, left, row, turned, passes: PASSES.includes(event.doing.do) })
  }
  return found
})

const ticks = computed(() => {
  const [from, to] = props.range
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 60, 120, 300, 600, 1800].find((s) => (to - from) / s <= 8) ?? 3600
  const first = Math.ceil(from / step) * step
  return Array.from({ length: Math.max(Math.floor((to - first) / step) + 1, 0) }, (_, k) => first + k * step)
    .map((time) => ({ time, left: (time - from) / Math.max(to - from, 0.1), words: clock(time, step) }))
    .filter((tick) => tick.left < 0.95) // a label at the right edge would be cut
})

function clock(time: number, step: number): string {
  if (step < 1) return `${time.toFixed(1)} s`
  const minutes = Math.floor(time / 60)
  const seconds = Math.round(time % 60)
  return minutes ? `${minutes}:${String(seconds).padStart(2, '0')}` : `${seconds} s`
}
</script>

<template>
  <div
    class="ribbon"
    :style="{ '--left': `${LABEL_WIDTH + SCALE_WIDTH}px`, '--right': `${readingWidth}px` }"
    :aria-label="t('live.marks')"
  >
    <span v-for="tick in ticks" :key="tick.time" class="tick small soft" :style="{ left: `${tick.left * 100}%` }">{{
      tick.words
    }}</span>
    <button
      v-for="(mark, k) in marks"
      :key="k"
      type="button"
      class="mark narrow"
      :class="{ bare: mark.row < 0, passes: mark.passes, turned: mark.turned && mark.row >= 0 }"
      :style="{ left: `${mark.left * 100}%`, top: `${18 + Math.max(mark.row, 0) * 17}px` }"
      :title="mark.words"
      @click="emit('jump', mark.time)"
    >
      <template v-if="mark.row >= 0">{{ mark.words }}</template>
      <span v-else class="visually-hidden">{{ mark.words }}</span>
    </button>
  </div>
</template>

<style scoped>
.ribbon {
  position: relative;
  height: 72px;
  margin-left: var(--left);
  margin-right: var(--right);
  overflow: hidden;
}
.tick {
  position: absolute;
  top: 0;
  padding-left: 3px;
  border-left: 1px solid var(--rule);
  white-space: nowrap;
}
.mark {
  position: absolute;
  height: 16px;
  border: 0;
  border-left: 2px solid var(--accent);
  background: none;
  color: var(--text);
  padding: 0 0 0 4px;
  font-size: 11px;
  line-height: 16px;
  white-space: nowrap;
  cursor: pointer;
}
.mark.passes {
  border-left-style: double;
  border-left-width: 4px;
  font-style: italic;
}
.mark.turned {
  border-width: 0 2px 0 0;
  border-right: 2px solid var(--accent);
  padding: 0 4px 0 0;
  transform: translateX(-100%);
}
.mark.turned.passes {
  border-right: 4px double var(--accent);
}
.mark.bare {
  width: 6px;
  padding: 0;
}
@container (max-width: 660px) {
  .ribbon {
    margin-right: 0;
  }
}
@container (max-width: 420px) {
  .ribbon {
    margin-left: 50px;
  }
}
</style>
