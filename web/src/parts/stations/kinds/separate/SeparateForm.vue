<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import type { FormProps } from '@/parts/stations/kind'
import OfferedTests from '@/parts/stations/OfferedTests.vue'

/** The two causes, and the tests that are offered. */
const props = defineProps<FormProps<'separate'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Separate']>] }>()
const { t } = useI18n()
function replace(k: number, next: Schemas['FaultSpec']) {
  emit('change', { causes: props.station.causes.map((old, j) => (j === k ? next : old)) })
}
</script>

<template>
  <span class="label">{{ t('stations.separate.causes') }}</span>
  <FaultEditor
    v-for="(cause, k) in station.causes"
    :key="k"
    :fault="cause"
    :rig="rig"
    @change="(next) => replace(k, next)"
  />
  <OfferedTests
    :rig="rig?.id"
    :chosen="station.tests"
    :least="2"
    :most="8"
    @change="(tests) => emit('change', { tests })"
  />
</template>
