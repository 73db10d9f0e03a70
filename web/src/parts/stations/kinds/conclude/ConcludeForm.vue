<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'

type Cause = Schemas['FaultSpec'] | null

/** The readings, and the causes that are offered for them. */
const props = defineProps<FormProps<'conclude'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Conclude']>] }>()
const { t } = useI18n()
const NEW: Schemas['FaultSpec'] = { kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } }

const PRESSURE: Schemas['FaultSpec'] = {
  kind: 'fuel_pressure_low',
  params: { factor: 0.7, factor_full: 0.7 },
  onset: { mode: 'permanent' },
}

/** A pair of causes, changed; without any, it goes. */
function setPair(k: number, pair?: Schemas['FaultSpec'][]) {
  const pairs = [...(props.station.together ?? [])]
  if (pair) pairs[k] = pair
  else pairs.splice(k, 1)
  emit('change', { together: pairs })
}

function replace(k: number, next: Cause) {
  emit('change', { causes: props.station.causes.map((old, j) => (j === k ? next : old)) })
}

function remove(k: number) {
  if (props.station.causes.length > 2) emit('change', { causes: props.station.causes.filter((_, j) => j !== k) })
}

function add(cause: Cause) {
  emit('change', { causes: [...props.station.causes, cause] })
}
</script>

<template>
  <ReadingPlaces
    :label="t('stations.conclude.readings')"
    :places="station.readings"
    :conditions="conditions"
    :only="only"
    @change="(readings) => emit('change', { readings })"
  />
  <span class="label">{{ t('stations.conclude.causes') }}</span>
  <template v-for="(cause, k) in station.causes" :key="k">
    <FaultEditor v-if="cause" :fault="cause" :rig="rig" @change="(next) => replace(k, next)" @remove="remove(k)" />
    <p v-else class="sound">
      {{ t('stations.conclude.nothingWrong') }}
      <button type="button" :aria-label="t('editor.removeRow')" @click="remove(k)">×</button>
    </p>
  </template>
  <div v-if="station.causes.length < 8" class="two">
    <button type="button" class="add" @click="add(NEW)">+ {{ t('stations.conclude.addCause') }}</button>
    <button v-if="!station.causes.includes(null)" type="button" class="add" @click="add(null)">
      + {{ t('stations.conclude.nothingWrong') }}
    </button>
  </div>
  <template v-for="(pair, k) in station.together ?? []" :key="k">
    <p class="sound">
      {{ t('stations.conclude.together') }}
      <button type="button" :aria-label="t('editor.removeRow')" @click="setPair(k)">×</button>
    </p>
    <FaultEditor
      v-for="(cause, j) in pair"
      :key="j"
      :fault="cause"
      :rig="rig"
      @change="
        (next) =>
          setPair(
            k,
            pair.map((old, i) => (i === j ? next : old)),
          )
      "
      @remove="setPair(k)"
    />
  </template>
  <button
    v-if="(station.together ?? []).length < 3"
    type="button"
    class="add"
    @click="setPair((station.together ?? []).length, [NEW, PRESSURE])"
  >
    + {{ t('stations.conclude.addTogether') }}
  </button>
</template>

<style scoped>
.two {
  display: flex;
  gap: 4px;
}
.sound {
  display: flex;
  border-top: 1px solid var(--rule);
  padding: 6px 4px;
  margin: 0;
  font-weight: 500;
}
.sound button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
</style>
