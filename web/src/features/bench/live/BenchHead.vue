<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import type { Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import type { Line } from '@/features/bench/live/line'
import EngineSelect from '@/parts/choice/EngineSelect.vue'

/** Which engine, in which condition, for how long, and at which pace it is seen. */
const props = defineProps<{
  line: Line
  bench: Schemas['BenchRow']
  benches: Schemas['BenchRow'][]
  rig?: Rig
  projected: boolean
  /** The engine is the one that it is: a station has given it. */
  covered: boolean
}>()
const emit = defineEmits<{ rig: [rig: string]; bench: [id: number]; close: []; project: []; pause: [] }>()
const { t } = useI18n()

const PACES = [0.01, 0.1, 1, 10, 1000]
const { state, now } = props.line
const clock = computed(() => {
  const seconds = props.line.seconds.value
  const part = (value: number) => String(Math.floor(value)).padStart(2, '0')
  return `${part(seconds / 3600)}:${part((seconds / 60) % 60)}:${part(seconds % 60)}`
})
const reached = computed(() => {
  const got = now.value?.reached ?? state.pace
  return state.pace > 1 && Math.abs(got - state.pace) > 0.1 * state.pace ? `×${got.toFixed(got < 10 ? 1 : 0)}` : ''
})
const benchEntry = ({ id, name, doings }: Schemas['BenchRow']) => ({
  value: String(id),
  label: t('live.benchRow', { name, doings }, doings ? 2 : 1),
})
const paused = computed(() => state.pace === 0)
</script>

<template>
  <div class="head" :class="{ projected }">
    <EngineSelect v-if="!projected && !covered" class="rig" :value="bench.rig" @choose="(next) => emit('rig', next)" />
    <b v-else class="title">{{ rig?.name }}</b>
    <ChooseOne
      v-if="benches.length > 1 && !projected && !covered"
      class="benches"
      :value="String(bench.id)"
      :entries="benches.map(benchEntry)"
      :label="t('live.myBenches')"
      @choose="(id) => emit('bench', Number(id))"
    />
    <button v-if="benches.length > 1 && !projected && !covered" type="button" class="tool" @click="emit('close')">
      {{ t('live.closeBench') }}
    </button>
    <span class="condition" :class="{ soft: !now?.condition_label }">{{
      now?.condition_label ?? t('lanes.outside')
    }}</span>
    <span class="clock">{{ clock }}</span>
    <span v-if="reached" class="small soft">{{ reached }}</span>
    <ChoiceRow
      class="pace"
      :label="t('live.pace')"
      :value="String(state.pace)"
      :choices="PACES.map((n) => ({ id: String(n), label: n > 100 ? t('live.fast') : `×${n}` }))"
      @choose="(n) => line.setPace(Number(n))"
    />
    <button type="button" class="tool" :aria-pressed="paused" @click="emit('pause')">
      {{ t(paused ? 'live.goOn' : 'live.pause') }}
    </button>
    <button type="button" class="tool" :aria-pressed="projected" @click="emit('project')">
      {{ t(projected ? 'live.unproject' : 'live.project') }}
    </button>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px var(--space-3);
  padding: 6px var(--space-4);
  border-bottom: 1px solid var(--rule);
}
.rig,
.benches {
  flex: 0 1 240px;
}
.condition {
  font-weight: 600;
  margin-left: auto;
}
.condition.soft {
  font-weight: 400;
}
.pace {
  margin: 0;
}
.pace :deep(.label) {
  display: none;
}
.projected .title {
  font-size: 22px;
}
.projected .condition,
.projected .clock {
  font-size: 20px;
}
@media (max-width: 700px) {
  .head {
    padding-left: var(--space-3);
    padding-right: var(--space-3);
  }
  .condition {
    margin-left: 0;
  }
}
</style>
