<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import FaultEditor from '@/parts/faults/FaultEditor.vue'

type Fault = Schemas['FaultSpec']

/** What is wrong with the car: any number of faults. */
const props = defineProps<{ faults: Fault[]; most?: number; rig?: Rig }>()
const emit = defineEmits<{ change: [faults: Fault[]] }>()
const { t } = useI18n()

function replace(k: number, fault: Fault) {
  emit(
    'change',
    props.faults.map((old, j) => (j === k ? fault : old)),
  )
}

function add() {
  emit('change', [
    ...props.faults,
    { kind: 'manifold_vacuum_leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } },
  ])
}
</script>

<template>
  <div>
    <p v-if="!faults.length" class="soft small">{{ t('bench.noFault') }}</p>
    <FaultEditor
      v-for="(fault, k) in faults"
      :key="k"
      :fault="fault"
      :rig="rig"
      @change="(next) => replace(k, next)"
      @remove="
        emit(
          'change',
          faults.filter((_, j) => j !== k),
        )
      "
    />
    <button v-if="faults.length < (most ?? 4)" type="button" class="add" @click="add">
      + {{ t('bench.addFault') }}
    </button>
  </div>
</template>

<style scoped>
.add {
  border: 1px solid var(--rule);
  background: var(--surface);
  color: var(--accent);
  cursor: pointer;
  padding: 4px 10px;
  width: 100%;
  text-align: left;
}
</style>
