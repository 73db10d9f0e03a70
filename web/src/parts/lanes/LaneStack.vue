<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { LABEL_WIDTH, READING_WIDTH, SCALE_WIDTH, type Lanes } from '@/parts/lanes/geometry'
import LaneRow from '@/parts/lanes/LaneRow.vue'
import { useRows } from '@/parts/lanes/rows'
import ScriptRibbon from '@/parts/lanes/ScriptRibbon.vue'
import { useView } from '@/parts/lanes/view'

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

const { range, cursor, window, index, focusOn, show, step, whole, onKey, onWheel } = useView(
  () => props.lanes,
  () => props.focus,
)
const { rows, here } = useRows(
  () => props.lanes,
  () => props.channels,
  () => props.showGood,
  () => props.available,
)
const explained = ref('')
defineExpose({ focusOn })
</script>

<template>
  <section class="stack" tabindex="0" :aria-label="t('bench.lanes')" @keydown="onKey" @wheel="onWheel">
    <div class="bar">
      <span class="where">
        <b>{{ window?.label ?? t('lanes.outside') }}</b>
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
    <LaneRow
      v-for="row in rows"
      :key="row.channel.id"
      :row="row"
      :lanes="lanes"
      :here="here(row.channel.id, window?.condition)"
      :range="range"
      :cursor="cursor"
      :index="index"
      :height="laneHeight"
      :removable="removable"
      :explained="explained === row.channel.id"
      @cursor="(time) => (cursor = time)"
      @range="show"
      @explain="explained = explained === row.channel.id ? '' : row.channel.id"
      @remove="emit('remove', row.channel.id)"
      @swap="(next) => emit('swap', row.channel.id, next)"
    />
    <div
      class="under"
      :style="{ '--label': `${LABEL_WIDTH}px`, '--scale': `${SCALE_WIDTH}px`, '--reading': `${READING_WIDTH}px` }"
    >
      <ScriptRibbon
        :lanes="lanes"
        :range="range"
        :cursor="cursor"
        @range="show"
        @cursor="(time: number) => (cursor = time)"
      />
    </div>
  </section>
</template>

<style scoped>
.stack {
  min-width: 0;
  container-type: inline-size;
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
.under {
  padding: 4px var(--reading) 0 calc(var(--label) + var(--scale));
}
@container (max-width: 660px) {
  .legend {
    display: none;
  }
  .under {
    padding-right: 0;
  }
}
@container (max-width: 420px) {
  .bar {
    flex-wrap: wrap;
    gap: 2px var(--space-3);
    padding-bottom: 4px;
  }
  .under {
    padding-left: var(--scale);
  }
}
</style>
