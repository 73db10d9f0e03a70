<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import type { Rig } from '@/api/catalogue'
import { client, sentence, unwrap } from '@/api/client'

/** What the driver tells, and the faults of this engine that would cause all of it. */
const props = defineProps<{ rig: Rig }>()
const { t } = useI18n()
const known = useQuery({
  queryKey: ['symptoms'],
  queryFn: () => unwrap(client.GET('/api/symptoms')),
  staleTime: Infinity,
})
interface Told {
  symptom: string
  state: string
}
const told = ref<Told[]>([{ symptom: 'high_idle', state: '' }])
const symptoms = computed(() => known.data.value?.symptoms ?? [])
const statesOf = (id: string) => {
  const there = symptoms.value.find((entry) => entry.id === id)?.states ?? []
  return (known.data.value?.states ?? []).filter((state) => there.includes(state.id))
}
const entryOf = ({ id, label }: { id: string; label: string }) => ({ value: id, label })
const asked = computed(() => told.value.map(({ symptom, state }) => (state ? `${symptom}:${state}` : symptom)))
const causes = useQuery({
  queryKey: ['causes', computed(() => props.rig.id), asked],
  queryFn: ({ signal }) =>
    unwrap(client.POST('/api/symptoms/causes', { body: { rig: props.rig.id, told: asked.value }, signal })),
  enabled: computed(() => told.value.length > 0),
  staleTime: Infinity,
  retry: false,
})
function choose(k: number, part: Partial<Told>) {
  told.value = told.value.map((entry, n) => (n === k ? { ...entry, ...part } : entry))
}
const groups = computed(() => [...new Set((causes.data.value ?? []).map((cause) => cause.group))])
</script>

<template>
  <p class="small soft">{{ t('signatures.symptomsLead') }}</p>
  <div v-for="(entry, k) in told" :key="k" class="told">
    <ChooseOne
      :value="entry.symptom"
      :entries="symptoms.map(entryOf)"
      :label="t('signatures.tabs.symptoms')"
      @choose="(symptom) => choose(k, { symptom, state: '' })"
    />
    <ChooseOne
      :value="entry.state"
      :entries="statesOf(entry.symptom).map(entryOf)"
      :label="t('signatures.condition')"
      :none="t('signatures.anyState')"
      @choose="(state) => choose(k, { state })"
    />
    <button
      v-if="told.length > 1"
      type="button"
      class="tool"
      :aria-label="t('bench.removeFault')"
      @click="told.splice(k, 1)"
    >
      ×
    </button>
  </div>
  <button v-if="told.length < 6" type="button" class="tool" @click="told.push({ symptom: 'rough_idle', state: '' })">
    {{ t('signatures.addSymptom') }}
  </button>
  <p v-if="causes.error.value" role="alert">{{ sentence(causes.error.value) }}</p>
  <p v-else-if="!causes.data.value" class="soft awaited" role="status">
    {{ t('signatures.computing') }} {{ t('signatures.firstTime') }}
  </p>
  <template v-else>
    <h2>{{ t('signatures.candidates', { n: causes.data.value.length }) }}</h2>
    <p v-if="!causes.data.value.length">{{ t('signatures.noCandidate') }}</p>
    <div v-for="group in groups" :key="group" class="group">
      <h3>{{ t(`signatures.groups.${group}`) }}</h3>
      <ul>
        <li v-for="cause in causes.data.value.filter((entry) => entry.group === group)" :key="cause.candidate">
          {{ cause.label }} <span class="small soft">{{ cause.size }}</span>
        </li>
      </ul>
    </div>
  </template>
</template>

<style scoped>
.told {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 6px;
}
select {
  min-width: 180px;
}
.told .pick {
  width: 280px;
}
.awaited {
  margin-top: var(--space-3);
}
h2 {
  margin: var(--space-4) 0 var(--space-2);
}
.group {
  display: grid;
  grid-template-columns: 140px minmax(0, 1fr);
  border-top: 1px solid var(--rule);
  padding: 5px 0;
}
h3 {
  font-size: 13px;
  color: var(--text-soft);
  font-weight: 500;
}
ul {
  margin: 0;
  padding-left: 16px;
  columns: 2 300px;
}
@media (max-width: 600px) {
  .group {
    grid-template-columns: 1fr;
  }
}
</style>
