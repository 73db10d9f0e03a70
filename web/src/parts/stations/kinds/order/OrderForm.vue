<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import type { FormProps } from '@/parts/stations/kind'
import OfferedTests from '@/parts/stations/OfferedTests.vue'

/** The causes that are in question, and the tests to be put in order. */
const props = defineProps<FormProps<'order'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Order']>] }>()
const { t } = useI18n()
const NEW: Schemas['FaultSpec'] = { kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } }
function replace(k: number, next: Schemas['FaultSpec']) {
  emit('change', { causes: props.station.causes.map((old, j) => (j === k ? next : old)) })
}
function remove(k: number) {
  if (props.station.causes.length > 2) emit('change', { causes: props.station.causes.filter((_, j) => j !== k) })
}
</script>

<template>
  <span class="label">{{ t('stations.order.causes') }}</span>
  <FaultEditor
    v-for="(cause, k) in station.causes"
    :key="k"
    :fault="cause"
    :rig="rig"
    @change="(next) => replace(k, next)"
    @remove="remove(k)"
  />
  <button
    v-if="station.causes.length < 5"
    type="button"
    class="add"
    @click="emit('change', { causes: [...station.causes, NEW] })"
  >
    + {{ t('stations.order.addCause') }}
  </button>
  <OfferedTests
    :rig="rig?.id"
    :chosen="station.tests"
    :least="3"
    :most="5"
    @change="(tests) => emit('change', { tests })"
  />
</template>
