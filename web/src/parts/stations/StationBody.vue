<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { units } from '@/api/session'
import { unitWithReference } from '@/format/units'
import NarrowbandExplorer from '@/parts/drawings/NarrowbandExplorer.vue'
import LaneStack from '@/parts/lanes/LaneStack.vue'
import type { Lanes } from '@/parts/lanes/geometry'
import ProseText from '@/parts/prose/ProseText.vue'
import { type Answer, type StationView } from '@/parts/stations/answer'
import ReadingTable from '@/parts/stations/ReadingTable.vue'
import VerdictChoice from '@/parts/verdict/VerdictChoice.vue'

/** A station as a learner sees it: the player works in it, the editor shows it as a preview. */
const props = defineProps<{
  station: StationView
  lanes?: Lanes | null
  answer: Answer
  disabled?: boolean
  rig: string
  name?: string
}>()
const emit = defineEmits<{ change: [answer: Answer] }>()
const { t } = useI18n()
const { quantities } = useCatalogue()

const asked = computed(() => props.station.readings[0])
const askedUnit = computed(() => unitWithReference(quantities.value.get(asked.value?.quantity ?? ''), units.value))

function judge(k: number, verdict: string) {
  const verdicts = props.station.readings.map((_, j) => (j === k ? verdict : (props.answer.verdicts?.[j] ?? null)))
  emit('change', { ...props.answer, verdicts })
}
</script>

<template>
  <div class="body">
    <p v-if="station.problem" class="problem" role="alert">{{ station.problem }}</p>
    <div class="told" :class="{ beside: station.drawing !== 'none', broad: station.kind !== 'explain' }">
      <ProseText v-if="station.text" :text="station.text" />
      <NarrowbandExplorer v-if="station.drawing === 'narrowband'" :rig="rig" />
    </div>
    <LaneStack
      v-if="station.has_lanes && lanes"
      :lanes="lanes"
      :channels="station.channels"
      :show-good="station.show_good"
      :focus="station.focus"
      :lane-height="station.channels.length === 1 ? 190 : station.channels.length > 3 ? 96 : 112"
    />
    <p v-else-if="station.has_lanes" class="soft waiting">{{ t('app.loading') }}</p>

    <div v-if="station.kind === 'measure' && asked" class="measure">
      <label class="label" :for="`${name}-reading`">{{ t('player.measureLabel') }}</label>
      <p class="asked">{{ asked.label }}, {{ asked.condition_label.toLowerCase() }}</p>
      <input
        :id="`${name}-reading`"
        class="entry"
        autocomplete="off"
        :value="answer.reading ?? ''"
        :disabled="disabled"
        :placeholder="t('player.measureHint', { unit: askedUnit })"
        @input="emit('change', { ...answer, reading: ($event.target as HTMLInputElement).value })"
      />
    </div>

    <ReadingTable v-else-if="station.kind === 'judge'" v-slot="{ k, reading }" :readings="station.readings" verdicts>
      <VerdictChoice
        :name="`${name}-verdict-${k}`"
        :label="`${reading.condition_label}: ${reading.label}`"
        :value="answer.verdicts?.[k]"
        :disabled="disabled"
        @choose="(verdict) => judge(k, verdict)"
      />
    </ReadingTable>

    <template v-else-if="station.kind === 'conclude'">
      <div class="conclude">
        <ReadingTable :readings="station.readings" />
        <fieldset class="causes" :disabled="disabled">
          <legend class="label">{{ t('player.yourCause') }}</legend>
          <label v-for="cause in station.causes" :key="cause.id" :class="{ on: answer.cause === cause.id }">
            <input
              type="radio"
              :name="`${name}-cause`"
              :value="cause.id"
              :checked="answer.cause === cause.id"
              @change="emit('change', { ...answer, cause: cause.id })"
            />
            {{ cause.label }}
          </label>
        </fieldset>
      </div>
    </template>
  </div>
</template>

<style scoped>
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.body {
  container-type: inline-size;
  display: flex;
  flex-direction: column;
  gap: var(--space-3);
  min-width: 0;
}
.told {
  display: grid;
  gap: var(--space-4);
}
.broad :deep(.prose) {
  max-width: 100ch;
}
@container (min-width: 1080px) {
  .beside {
    grid-template-columns: minmax(0, 1fr) 620px;
  }
}
.waiting {
  min-height: 200px;
}
.measure {
  display: grid;
  grid-template-columns: auto 1fr;
  align-items: baseline;
  gap: 2px var(--space-3);
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
.measure .label {
  grid-column: 1 / -1;
}
.asked {
  margin: 0;
  font-weight: 600;
}
.entry {
  width: 220px;
  border: 1px solid var(--text-soft);
  background: var(--field);
  padding: 6px 9px;
  font-size: 16px;
}
.conclude {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-5);
  align-items: flex-start;
}
.causes {
  border: 0;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  min-width: 270px;
}
.causes legend {
  padding: var(--space-1) 0;
}
.causes label {
  display: flex;
  gap: 9px;
  align-items: baseline;
  padding: 7px 8px;
  border-top: 1px solid var(--rule);
  cursor: pointer;
}
.causes label.on {
  background: var(--surface-strong);
  font-weight: 600;
}
.causes input {
  accent-color: var(--accent);
}
</style>
