<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { LABEL_WIDTH, READING_WIDTH, type Lanes, type Range } from '@/parts/lanes/geometry'
import LanePlot from '@/parts/lanes/LanePlot.vue'
import type { Here, Row } from '@/parts/lanes/rows'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** One lane: its name and layers, the plot, and what stands at the cursor, with the verdict on it. */
const props = defineProps<{
  row: Row
  lanes: Lanes
  here: Here
  range: Range
  cursor: number
  index: number
  height: number
  removable: boolean
  explained: boolean
  readingWidth?: number
  /** What the thin line is. */
  goodWord?: string
}>()
const emit = defineEmits<{
  cursor: [time: number]
  range: [next: Range]
  explain: []
  remove: []
  swap: [channel: string]
}>()
const { t, te } = useI18n()

/** What the verdict rests on: the mean with its value, or a measure of the signal's shape by its name. */
const judgedBy = computed(() => {
  const reading = props.here.reading
  if (!reading || (reading.measure ?? 'mean') === 'mean')
    return `${t('editor.stats.mean')} ${props.row.say(reading?.value ?? null)}`
  const key = `lanes.judgedBy.${reading.measure}`
  return t(te(key) ? key : 'lanes.judgedBy.shape')
})
</script>

<template>
  <div class="lane" :style="{ '--family': `var(--${row.channel.family})` }">
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
          @click="emit('swap', sibling.id)"
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
        @click="emit('remove')"
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
      :height="height"
      :family="row.channel.family"
      :layer="row.channel.layer"
      @cursor="(time: number) => emit('cursor', time)"
      @range="(next: Range) => emit('range', next)"
    />
    <div class="reading" :style="{ width: `${readingWidth ?? READING_WIDTH}px` }">
      <div class="now">
        <span class="big" :data-testid="`reading-${row.channel.id}`">{{
          row.say(lanes.lanes[row.channel.id]?.run?.[index])
        }}</span>
        <span class="small soft unit">{{ row.unit }}</span>
      </div>
      <div v-if="here.reading?.substitute">
        <span class="small substitute" :title="t('player.substituteMeans')">{{ t('player.substitute') }}</span>
      </div>
      <div v-if="row.good" class="small soft">
        {{ goodWord ?? t('bench.good') }} {{ row.say(lanes.lanes[row.channel.id]?.good?.[index]) }}
      </div>
      <div v-if="here.band" class="small soft">
        {{ t(here.band.swing ? 'lanes.swings' : 'lanes.expected') }}
        {{ row.say(here.band.low) }} …
        {{ row.say(here.band.high) }}
      </div>
      <button v-if="here.reading" type="button" class="judged" @click="emit('explain')">
        <VerdictMark :kind="here.reading.verdict" />
        <span class="small soft">{{ judgedBy }}</span>
      </button>
    </div>
    <p v-if="explained && here.reading" class="why small">
      {{ here.reading.reason }}
    </p>
  </div>
</template>

<style scoped>
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
.substitute {
  padding: 0 4px;
  border: 1px dashed var(--rule);
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
.unit {
  white-space: nowrap;
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
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 8px;
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
/* Where there is little room, what stands at the cursor goes under the plot, then the name above it. */
@container (max-width: 660px) {
  .reading {
    flex-basis: 100%;
    width: auto !important;
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 0 var(--space-3);
    padding-left: var(--space-2);
  }
  .big {
    min-width: 0;
    font-size: 18px;
  }
}
@container (max-width: 420px) {
  .name {
    flex: 1 1 100%;
    flex-direction: row;
    align-items: baseline;
    gap: var(--space-2);
    width: 100% !important;
  }
  .layers {
    flex-direction: row;
    gap: var(--space-2);
    margin: 0;
  }
  .plot {
    flex-basis: 100%;
  }
}
</style>
