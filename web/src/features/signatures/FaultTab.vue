<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { useCatalogue, type Rig } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import SignatureTable from '@/features/signatures/SignatureTable.vue'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import { fresh } from '@/parts/faults/fresh'

/** One fault at any size, or two at once: signature, look-alikes, smallest size. */
const props = defineProps<{ rig: Rig }>()
const { t } = useI18n()
const route = useRoute()
const { faultKinds, channels, conditions } = useCatalogue()
type Fault = Schemas['FaultSpec']

/** The fault asked for in the address, as far as this engine can have it; else one that it can have. */
function first(): Fault {
  if (typeof route.query.fault === 'string') {
    try {
      const told = JSON.parse(route.query.fault) as Fault
      if (told.kind && told.kind in props.rig.faults) return told
    } catch {
      // An address that somebody has cut short: the usual fault stands in for it.
    }
  }
  const wanted = typeof route.query.kind === 'string' && route.query.kind in props.rig.faults ? route.query.kind : ''
  const id =
    wanted || ('manifold_vacuum_leak' in props.rig.faults ? 'manifold_vacuum_leak' : Object.keys(props.rig.faults)[0])
  const kind = faultKinds.value.get(id ?? '')
  return { kind: id ?? '', params: kind ? fresh(props.rig, kind) : {}, onset: { mode: 'permanent' } }
}
const faults = ref<Fault[]>([first()])
const settled = ref<Fault[]>([...faults.value])
let timer: number | undefined
watch(
  faults,
  (next) => {
    window.clearTimeout(timer)
    timer = window.setTimeout(() => (settled.value = [...next]), 300)
  },
  { deep: true },
)
function change(k: number, fault: Fault) {
  faults.value = faults.value.map((entry, n) => (n === k ? fault : entry))
}
const one = computed(() => (settled.value.length === 1 ? settled.value[0] : undefined))
const alike = useQuery({
  queryKey: ['alike', computed(() => props.rig.id), computed(() => JSON.stringify(one.value))],
  queryFn: ({ signal }) =>
    unwrap(client.POST('/api/signatures/alike', { body: { rig: props.rig.id, fault: one.value as Fault }, signal })),
  enabled: computed(() => one.value !== undefined),
  placeholderData: keepPreviousData,
  staleTime: Infinity,
  retry: false,
})
const smallest = computed(() => alike.data.value?.smallest ?? [])
const untold = computed(() =>
  smallest.value
    .filter((entry) => entry.share === null)
    .map((entry) => conditions.value.get(entry.condition)?.label ?? entry.condition),
)
</script>

<template>
  <div class="both">
    <aside>
      <FaultEditor
        v-for="(fault, k) in faults"
        :key="k"
        :fault="fault"
        :rig="rig"
        @change="(next) => change(k, next)"
        @remove="faults.length > 1 && faults.splice(k, 1)"
      />
      <button v-if="faults.length < 2" type="button" class="tool" @click="faults.push(first())">
        {{ t('signatures.add') }}
      </button>
      <template v-if="one">
        <h2>{{ t('signatures.smallest') }}</h2>
        <p class="small soft">{{ t('signatures.smallestLead') }}</p>
        <p v-if="alike.error.value" role="alert">{{ sentence(alike.error.value) }}</p>
        <p v-else-if="!alike.data.value" class="soft" role="status">{{ t('signatures.computing') }}</p>
        <div v-else class="small" :class="{ waiting: alike.isFetching.value }">
          <ul class="sizes">
            <li v-for="told in smallest.filter((entry) => entry.share !== null)" :key="told.condition">
              <b>{{ conditions.get(told.condition)?.label ?? told.condition }}</b>: {{ told.size }}
              <span class="soft">{{ t('signatures.by') }} {{ channels.get(told.channel)?.label }}</span>
            </li>
          </ul>
          <p v-if="untold.length" class="soft">{{ t('signatures.notTold', { list: untold.join(', ') }) }}</p>
          <p v-if="!smallest.length" class="soft">{{ t('signatures.noSize') }}</p>
        </div>
      </template>
    </aside>
    <div class="main">
      <p class="small soft">{{ t('signatures.lead') }}</p>
      <SignatureTable :rig="rig.id" :faults="settled" full />
      <template v-if="one && alike.data.value">
        <h2>{{ t('signatures.alike') }}</h2>
        <p class="small soft">{{ t('signatures.alikeLead') }}</p>
        <p v-if="!alike.data.value.alike.length">{{ t('signatures.noAlike') }}</p>
        <table v-else class="plain stacks">
          <thead>
            <tr>
              <th>{{ t('signatures.cause') }}</th>
              <th>{{ t('signatures.separates') }}</th>
              <th class="number"></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="entry in alike.data.value.alike" :key="entry.candidate">
              <td :data-label="t('signatures.cause')">{{ entry.label }}</td>
              <td :data-label="t('signatures.separates')">{{ entry.separated_by }}</td>
              <td class="number">{{ t('signatures.minutes', { n: Math.round(entry.minutes) }) }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </div>
  </div>
</template>

<style scoped>
.both {
  display: grid;
  gap: var(--space-4) var(--space-5);
}
@media (min-width: 900px) {
  .both {
    grid-template-columns: 290px minmax(0, 1fr);
  }
}
h2 {
  margin: var(--space-4) 0 4px;
}
.sizes {
  padding-left: 16px;
  margin: 0;
}
.waiting {
  opacity: 0.6;
}
table.plain {
  width: auto;
  min-width: min(100%, 620px);
}
</style>
