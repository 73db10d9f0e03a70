<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, unwrap, type Schemas } from '@/api/client'
import PickOne from '@/parts/choice/PickOne.vue'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import type { FormProps } from '@/parts/stations/kind'

/** The two causes, and the tests that are offered. */
const props = defineProps<FormProps<'separate'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Separate']>] }>()
const { t } = useI18n()
const tests = useQuery({
  queryKey: ['tests', computed(() => props.rig?.id)],
  queryFn: () => unwrap(client.GET('/api/rigs/{rig}/tests', { params: { path: { rig: props.rig?.id ?? 'R1' } } })),
  enabled: computed(() => props.rig !== undefined),
  staleTime: Infinity,
})
const labels = computed(() => new Map((tests.data.value ?? []).map((test) => [test.id, test.label])))
const groups = computed(() => [
  {
    label: t('stations.separate.tests'),
    entries: (tests.data.value ?? [])
      .filter((test) => !props.station.tests.includes(test.id))
      .map((test) => ({ value: test.id, label: test.label })),
  },
])
function replace(k: number, next: Schemas['FaultSpec']) {
  emit('change', { causes: props.station.causes.map((old, j) => (j === k ? next : old)) })
}
function remove(id: string) {
  if (props.station.tests.length > 2) emit('change', { tests: props.station.tests.filter((test) => test !== id) })
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
  <span class="label">{{ t('stations.separate.tests') }}</span>
  <p v-for="test in station.tests" :key="test" class="test small">
    {{ labels.get(test) ?? test }}
    <button type="button" :aria-label="t('editor.removeRow')" @click="remove(test)">×</button>
  </p>
  <PickOne
    v-if="station.tests.length < 8"
    value=""
    :groups="groups"
    :label="t('stations.separate.addTest')"
    @choose="(test) => emit('change', { tests: [...station.tests, test] })"
  />
</template>

<style scoped>
.test {
  display: flex;
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 4px 0;
}
.test button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
</style>
