<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Channel } from '@/api/catalogue'
import { units } from '@/api/session'
import { converted, shown, unitWithReference } from '@/format/units'
import {
  around,
  clamp,
  indexAt,
  LABEL_WIDTH,
  neighbour,
  READING_WIDTH,
  SCALE_WIDTH,
  windowAt,
  type Lanes,
  type Range,
} from '@/parts/lanes/geometry'
import LanePlot from '@/parts/lanes/LanePlot.vue'
import ScriptRibbon from '@/parts/lanes/ScriptRibbon.vue'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** Stacked lanes on one time axis: one cursor crosses all of them, the readings column says what stands there. */
const props = withDefaults(
  defineProps<{
    lanes: Lanes
    channels: string[]
    showGood?: boolean
    focus?: string | null
    laneHeight?: number
    removable?: boolean
    available?: string[]
  }>(),
  { showGood: true, focus: null, available: undefined, laneHeight: 104, removable: false },
)
const emit = defineEmits<{ remove: [channel: string]; swap: [from: string, to: string] }>()
const { t } = useI18n()
const { channels: catalogue, quantities } = useCatalogue()

const range = ref<Range>([0, props.lanes.seconds])
const cursor = ref(0)

function focusOn(condition: string | null | undefined) {
  const window = props.lanes.windows.find((w) => w.condition === condition)
  range.value = window ? around(window, props.lanes.seconds) : [0, props.lanes.seconds]
  const idle = window ?? props.lanes.windows.find((w) => w.condition === 'hot_idle')
  cursor.value = idle ? (idle.start + idle.end) / 2 : props.lanes.seconds / 2
}
focusOn(props.focus)
watch(() => props.focus, focusOn)
watch(
  () => props.lanes.seconds,
  () => focusOn(props.focus),
)
defineExpose({ focusOn })

const here = computed(() => windowAt(props.lanes.windows, cursor.value))
const index = computed(() => indexAt(props.lanes.time, cursor.value))

interface Row {
  channel: Channel
  unit: string
  run: (number | null)[]
  good: (number | null)[] | null
  bands: { start: number; end: number; low: number; high: number }[]
  siblings: Channel[]
}

/** What the engine's own tool shows: trims of an older control unit are counts, not percent. */
function quantityOf(channel: Channel) {
  return quantities.value.get(props.lanes.quantities[channel.id] ?? channel.quantity)
}

/** Lanes in the person's units; the conversion itself is the catalogue's. */
const rows = computed<Row[]>(() =>
  props.channels.flatMap((name) => {
    const channel = catalogue.value.get(name)
    const lane = props.lanes.lanes[name]
    if (!channel || !lane) return []
    const quantity = quantityOf(channel)
    const convert = (value: number | null) => (value === null ? null : converted(value, quantity, units.value))
    const bands = (props.lanes.bands ?? []).flatMap((band) => {
      const window = props.lanes.windows.find((w) => w.condition === band.condition)
      if (band.channel !== name || !window) return []
      return [{ start: window.start, end: window.end, low: convert(band.low) ?? 0, high: convert(band.high) ?? 0 }]
    })
    const siblings = [...catalogue.value.values()].filter(
      (c) => c.measurand === channel.measurand && (!props.available || props.available.includes(c.id)),
    )
    const good = props.showGood ? (lane.good?.map(convert) ?? null) : null
    return [
      {
        channel,
        unit: unitWithReference(quantity, units.value),
        run: lane.run.map(convert),
        good,
        bands: props.showGood ? bands : [],
        siblings,
      },
    ]
  }),
)

function text(channel: Channel, value: number | null | undefined): string {
  return shown(value, quantityOf(channel), channel.step, units.value).text
}

function atCursor(name: string, which: 'run' | 'good'): number | null | undefined {
  return props.lanes.lanes[name]?.[which]?.[index.value]
}

function reading(name: string) {
  return props.lanes.readings?.find((r) => r.condition === here.value?.condition && r.channel === name)
}

function bandHere(name: string) {
  return props.showGood
    ? (props.lanes.bands ?? []).find((b) => b.condition === here.value?.condition && b.channel === name)
    : undefined
}

const why = ref('')

function step(direction: 1 | -1) {
  const window = neighbour(props.lanes.windows, cursor.value, direction)
  if (!window) return
  range.value = clamp(around(window, props.lanes.seconds), props.lanes.seconds)
  cursor.value = (window.start + window.end) / 2
}

function whole() {
  range.value = [0, props.lanes.seconds]
}

function onKey(event: KeyboardEvent) {
  if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return
  const width = ((range.value[1] - range.value[0]) / 200) * (event.shiftKey ? 10 : 1)
  if (event.key === 'ArrowLeft') cursor.value = Math.max(0, cursor.value - width)
  else if (event.key === 'ArrowRight') cursor.value = Math.min(props.lanes.seconds, cursor.value + width)
  else if (event.key === '[') step(-1)
  else if (event.key === ']') step(1)
  else if (event.key === '0') whole()
  else return
  event.preventDefault()
}
</script>

<template>
  <section class="stack" tabindex="0" :aria-label="t('bench.lanes')" @keydown="onKey">
    <div class="bar">
      <span class="where">
        <b>{{ here?.label ?? t('lanes.outside') }}</b>
        <span class="soft at">{{ t('lanes.atCursor', { time: cursor.toFixed(1) }) }}</span>
      </span>
      <span v-if="showGood" class="legend small soft">
        <i class="thin"></i>{{ t('bench.good') }} <i class="strong"></i>{{ t('bench.faulty') }} <i class="hatched"></i
        >{{ t('bench.band') }}
      </span>
      <span class="steps">
        <button type="button" :title="t('lanes.earlier') + '  ['" :aria-label="t('lanes.earlier')" @click="step(-1)">
          ‹
        </button>
        <button type="button" class="whole" title="0" @click="whole">{{ t('lanes.whole') }}</button>
        <button type="button" :title="t('lanes.later') + '  ]'" :aria-label="t('lanes.later')" @click="step(1)">
          ›
        </button>
      </span>
    </div>
    <div v-for="row in rows" :key="row.channel.id" class="lane" :style="{ '--family': `var(--${row.channel.family})` }">
      <div class="name" :style="{ width: `${LABEL_WIDTH}px` }">
        <span class="title narrow">{{ row.channel.label }}</span>
        <span class="small soft narrow">{{ row.unit }}</span>
        <span v-if="removable" class="layers">
          <button
            v-for="sibling in row.siblings"
            :key="sibling.id"
            type="button"
            class="narrow"
            :class="{ on: sibling.id === row.channel.id }"
            :title="`${sibling.label}: ${t(`layerLong.${sibling.layer}`)}`"
            @click="emit('swap', row.channel.id, sibling.id)"
          >
            {{ t(`layer.${sibling.layer}`) }}
          </button>
        </span>
        <span v-else class="small soft narrow">{{ t(`layer.${row.channel.layer}`) }}</span>
        <button
          v-if="removable"
          type="button"
          class="remove"
          :aria-label="t('bench.removeLane', { label: row.channel.label })"
          @click="emit('remove', row.channel.id)"
        >
          ×
        </button>
      </div>
      <LanePlot
        class="plot"
        :time="lanes.time"
        :run="row.run"
        :good="row.good"
        :bands="row.bands"
        :windows="lanes.windows"
        :range="range"
        :cursor="cursor"
        :height="laneHeight"
        :family="row.channel.family"
        :layer="row.channel.layer"
        @cursor="(time: number) => (cursor = time)"
        @range="(next: Range) => (range = clamp(next, lanes.seconds))"
      />
      <div class="reading" :style="{ width: `${READING_WIDTH}px` }">
        <div class="now">
          <span class="big" :data-testid="`reading-${row.channel.id}`">{{
            text(row.channel, atCursor(row.channel.id, 'run'))
          }}</span>
          <span class="small soft">{{ row.unit }}</span>
        </div>
        <div v-if="showGood && row.good" class="small soft">
          {{ t('bench.good') }} {{ text(row.channel, atCursor(row.channel.id, 'good')) }}
        </div>
        <div v-if="bandHere(row.channel.id)" class="small soft">
          {{ t(bandHere(row.channel.id)?.swing ? 'lanes.swings' : 'lanes.expected') }}
          {{ text(row.channel, bandHere(row.channel.id)?.low) }} …
          {{ text(row.channel, bandHere(row.channel.id)?.high) }}
        </div>
        <button
          v-if="reading(row.channel.id)"
          type="button"
          class="judged"
          @click="why = why === row.channel.id ? '' : row.channel.id"
        >
          <VerdictMark :kind="reading(row.channel.id)!.verdict" />
          <span class="small soft"
            >{{ t('editor.stats.mean') }} {{ text(row.channel, reading(row.channel.id)!.value) }}</span
          >
        </button>
      </div>
      <p v-if="why === row.channel.id && reading(row.channel.id)" class="why small">
        {{ reading(row.channel.id)!.reason }}
      </p>
    </div>
    <div class="under" :style="{ paddingLeft: `${LABEL_WIDTH + SCALE_WIDTH}px`, paddingRight: `${READING_WIDTH}px` }">
      <ScriptRibbon
        :lanes="lanes"
        :range="range"
        :cursor="cursor"
        @range="(next: Range) => (range = next)"
        @cursor="(time: number) => (cursor = time)"
      />
    </div>
  </section>
</template>

<style scoped>
.stack {
  min-width: 0;
}
.bar {
  display: flex;
  align-items: baseline;
  gap: var(--space-4);
  padding-bottom: var(--space-1);
  border-bottom: 1px solid var(--text);
}
.at {
  margin-left: 6px;
}
.legend {
  display: flex;
  align-items: center;
  gap: 6px;
  margin-left: auto;
}
.legend i {
  display: inline-block;
  width: 22px;
  margin-left: 10px;
}
.thin {
  border-top: 1px solid var(--text-soft);
}
.strong {
  border-top: 3px solid var(--text);
}
.hatched {
  height: 10px;
  border: 1px solid var(--text-faint);
  background: repeating-linear-gradient(135deg, transparent 0 3px, var(--text-faint) 3px 4px);
}
.steps {
  display: flex;
  gap: 2px;
  margin-left: auto;
}
.legend + .steps {
  margin-left: 0;
}
.steps button {
  border: 1px solid var(--rule);
  background: var(--surface);
  color: var(--text);
  cursor: pointer;
  min-width: 26px;
  padding: 1px 8px;
}
.steps .whole {
  font-size: var(--text-small);
}
.lane {
  display: flex;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--rule);
}
.name {
  position: relative;
  flex: none;
  display: flex;
  flex-direction: column;
  padding: 6px 4px 4px 8px;
  border-left: 4px solid var(--family);
}
.title {
  font-weight: 600;
  color: var(--family);
  line-height: 1.2;
}
.layers {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  margin-top: 3px;
}
.layers button {
  border: 0;
  background: none;
  color: var(--text-soft);
  font-size: 11px;
  line-height: 15px;
  padding: 0;
  cursor: pointer;
}
.layers button.on {
  color: var(--text);
  font-weight: 600;
  text-decoration: underline;
  text-underline-offset: 2px;
}
.remove {
  position: absolute;
  right: 0;
  top: 3px;
  border: 0;
  background: none;
  color: var(--text-faint);
  cursor: pointer;
}
.plot {
  flex: 1 1 0;
}
.reading {
  flex: none;
  padding: 6px 0 4px var(--space-3);
  line-height: 1.35;
}
.now {
  display: flex;
  align-items: baseline;
  gap: 6px;
}
.big {
  font-size: 22px;
  font-weight: 600;
  line-height: 1.1;
  min-width: 74px;
  text-align: right;
}
.judged {
  display: flex;
  align-items: baseline;
  gap: 8px;
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  text-align: left;
}
.why {
  flex-basis: 100%;
  margin: 0;
  padding: 4px 8px 6px;
  background: var(--surface-sunk);
}
.under {
  padding-top: 4px;
}
@media (max-width: 900px) {
  .legend {
    display: none;
  }
}
</style>
