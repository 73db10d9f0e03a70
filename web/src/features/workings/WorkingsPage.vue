<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap } from '@/api/client'
import { hasBench, units } from '@/api/session'
import FromRecording from '@/features/workings/FromRecording.vue'
import CurvePlot from '@/features/workings/CurvePlot.vue'
import { filledFrom, takenAlong } from '@/features/workings/moment'
import EngineSelect from '@/parts/choice/EngineSelect.vue'
import PickOne from '@/parts/choice/PickOne.vue'
import FormulaText from '@/parts/prose/FormulaText.vue'

/** Calculations of the trade: what goes in, every step with its numbers, what it means, and what slips would have given. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { conditions } = useCatalogue()

const list = useQuery({
  queryKey: ['workings'],
  queryFn: () => unwrap(client.GET('/api/workings')),
  staleTime: Infinity,
})
const search = ref('')
const found = computed(() =>
  (list.data.value ?? []).filter((entry) =>
    `${entry.label} ${entry.why}`.toLowerCase().includes(search.value.trim().toLowerCase()),
  ),
)
const working = computed(() => {
  const all = list.data.value ?? []
  return all.find((entry) => entry.id === route.query.of) ?? all.find((entry) => entry.id === 'volumetric_efficiency')
})
function open(id: string) {
  router.replace({ query: { ...route.query, of: id } })
}

const moment = takenAlong()
const given = ref<Record<string, string>>({})
const sources = ref<Record<string, string>>({})
const over = ref('')
const settled = ref<Record<string, string>>({})
let timer: number | undefined
watch(
  () => working.value?.id,
  () => {
    given.value = Object.fromEntries((working.value?.inputs ?? []).map((entry) => [entry.symbol, '']))
    sources.value = {}
    over.value = working.value?.inputs[0]?.symbol ?? ''
    if (route.query.from === 'bench' && moment) fillFromMoment()
  },
  { immediate: true },
)
watch(
  given,
  (next) => {
    window.clearTimeout(timer)
    timer = window.setTimeout(() => (settled.value = { ...next }), 250)
  },
  { deep: true, immediate: true },
)
/** Nothing is asked before something was given for everything that has no usual value. */
const complete = computed(() =>
  (working.value?.inputs ?? []).every((entry) => entry.default !== null || settled.value[entry.symbol]?.trim()),
)
const sheet = useQuery({
  queryKey: ['work out', computed(() => working.value?.id), settled, over, units],
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/workings/{working}', {
        params: { path: { working: working.value?.id ?? '' } },
        body: { given: settled.value, over: over.value },
        signal,
      }),
    ),
  enabled: computed(() => complete.value && working.value !== undefined),
  placeholderData: keepPreviousData,
  retry: false,
  staleTime: Infinity,
})
const worked = computed(() => (complete.value && !sheet.error.value ? sheet.data.value : undefined))

// --- where the numbers come from ---
function fillFromMoment() {
  if (!moment || !working.value) return
  const filled = filledFrom(moment, working.value.inputs)
  given.value = { ...given.value, ...filled }
  const from = t('workings.fromMoment', { name: moment.name, seconds: moment.seconds.toFixed(0) })
  sources.value = Object.fromEntries(Object.keys(filled).map((symbol) => [symbol, from]))
}
const rig = ref('R1')
const condition = ref('wot_pull')
const conditionGroups = computed(() => [
  {
    label: t('values.condition'),
    entries: [...conditions.value.values()].map((entry) => ({ value: entry.id, label: entry.label })),
  },
])
function take(fed: { given: Record<string, string>; sources: Record<string, string> }) {
  given.value = { ...given.value, ...fed.given }
  sources.value = fed.sources
}
const feed = useMutation({
  mutationFn: () =>
    unwrap(
      client.GET('/api/workings/{working}/feed', {
        params: {
          path: { working: working.value?.id ?? '' },
          query: { rig: rig.value, condition: condition.value },
        },
      }),
    ),
  onSuccess: take,
})
function typed(symbol: string) {
  delete sources.value[symbol]
}
const unitOf = (unit: string) => (unit === '-' ? '' : unit)
</script>

<template>
  <div class="workings">
    <aside class="left">
      <h1>{{ t('workings.title') }}</h1>
      <input v-model="search" type="search" :placeholder="t('workings.search')" :aria-label="t('workings.search')" />
      <nav :aria-label="t('workings.title')">
        <button
          v-for="entry in found"
          :key="entry.id"
          type="button"
          :class="{ on: entry.id === working?.id }"
          :aria-current="entry.id === working?.id"
          @click="open(entry.id)"
        >
          {{ entry.label }}
        </button>
        <p v-if="list.data.value && !found.length" class="small soft">{{ t('workings.none') }}</p>
      </nav>
    </aside>
    <div v-if="working" class="main">
      <h2 class="title">{{ working.label }}</h2>
      <p>{{ working.why }}</p>
      <p v-if="working.preconditions.length" class="small soft">
        {{ t('workings.holds', { what: working.preconditions.join('; ') }) }}
      </p>
      <div class="two">
        <section>
          <h3>{{ t('workings.given') }}</h3>
          <div v-for="entry in working.inputs" :key="entry.symbol" class="input">
            <label :for="`in-${entry.symbol}`">
              <FormulaText :tex="entry.tex" /> <span class="small soft">{{ entry.label }}</span>
            </label>
            <input
              :id="`in-${entry.symbol}`"
              v-model="given[entry.symbol]"
              :placeholder="
                entry.default === null
                  ? unitOf(entry.unit) && t('workings.example', { unit: unitOf(entry.unit) })
                  : `${entry.default} ${unitOf(entry.unit)}`
              "
              @input="typed(entry.symbol)"
            />
            <span class="small soft used">
              {{ worked?.used[entry.symbol] }}
              <em v-if="sources[entry.symbol]">{{ sources[entry.symbol] }}</em>
            </span>
          </div>
          <p v-if="sheet.error.value && complete" class="problem small" role="alert">
            {{ sentence(sheet.error.value) }}
          </p>
          <details class="fill">
            <summary>{{ t('workings.fill') }}</summary>
            <button v-if="moment" type="button" class="tool" @click="fillFromMoment">
              {{ t('workings.fromMoment', { name: moment.name, seconds: moment.seconds.toFixed(0) }) }}
            </button>
            <EngineSelect :value="rig" @choose="(next) => (rig = next)" />
            <PickOne
              :value="condition"
              :groups="conditionGroups"
              :label="t('values.condition')"
              @choose="(next) => (condition = next)"
            />
            <button type="button" class="tool" :disabled="feed.isPending.value" @click="feed.mutate()">
              {{ t(feed.isPending.value ? 'bench.running' : 'workings.fromEngine') }}
            </button>
            <p v-if="feed.error.value" class="problem small" role="alert">{{ sentence(feed.error.value) }}</p>
            <FromRecording v-if="hasBench" :working="working.id" @fed="take" />
          </details>
        </section>
        <section v-if="worked">
          <div class="curvehead">
            <h3>{{ t('workings.curve') }}</h3>
            <select v-model="over" :aria-label="t('workings.over')">
              <option v-for="entry in working.inputs" :key="entry.symbol" :value="entry.symbol">
                {{ t('workings.overInput', { label: entry.label }) }}
              </option>
            </select>
          </div>
          <CurvePlot :curve="worked.curve" :at="worked.values[worked.curve.symbol] ?? 0" />
        </section>
      </div>
      <section v-if="worked" aria-live="polite">
        <h3>{{ t('workings.steps') }}</h3>
        <ol class="steps">
          <li v-for="(step, k) in worked.steps" :key="k" :class="{ last: k === worked.steps.length - 1 }">
            <span class="label">{{ step.label }}</span>
            <span class="line">
              <FormulaText :tex="`\\displaystyle ${step.symbol} = ${step.formula} = ${step.numbers}`" />
              <b class="result">= {{ step.shown.replace('-', '−') }}</b>
              <span v-if="step.in_units" class="soft">({{ step.in_units }})</span>
            </span>
            <details v-if="step.slips.length" class="small">
              <summary class="soft">{{ t('workings.slips', { n: step.slips.length }, step.slips.length) }}</summary>
              <p v-for="slip in step.slips" :key="slip.words">
                <b>{{ slip.value }}</b>: {{ slip.words }}
              </p>
            </details>
          </li>
        </ol>
        <p v-if="worked.meaning" class="meaning">{{ worked.meaning }}</p>
      </section>
      <p v-else-if="!sheet.error.value" class="soft">{{ t('workings.wait') }}</p>
      <p v-if="working.source" class="small soft">{{ t('workings.source', { source: working.source }) }}</p>
    </div>
  </div>
</template>

<style scoped>
.workings {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  min-height: calc(100vh - 47px);
}
.left {
  background: var(--surface-sunk);
  border-right: 1px solid var(--rule);
  padding: var(--space-3) 0 var(--space-4) var(--space-4);
  position: sticky;
  top: 0;
  max-height: 100vh;
  overflow-y: auto;
}
.left h1 {
  margin: 0 0 var(--space-2);
}
.left input {
  width: calc(100% - var(--space-3));
  margin-bottom: var(--space-2);
}
.left nav button {
  display: block;
  width: 100%;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  color: var(--text);
  padding: 4px 8px;
  font-size: 13.5px;
  text-align: left;
  cursor: pointer;
}
.left nav .on {
  border-left-color: var(--accent);
  background: var(--surface-strong);
  font-weight: 600;
}
.main {
  padding: var(--space-3) var(--space-4) var(--space-4);
  min-width: 0;
  max-width: 1000px;
}
.title {
  font-size: 22px;
  margin: 0;
}
.main > p {
  margin: 4px 0;
  max-width: 80ch;
}
.two {
  display: grid;
  grid-template-columns: minmax(300px, 1fr) minmax(0, 1fr);
  gap: var(--space-4);
  margin-top: var(--space-2);
}
.input {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 130px;
  gap: 0 var(--space-2);
  align-items: baseline;
  margin: 5px 0;
}
.used {
  grid-column: 1 / -1;
  text-align: right;
  min-height: 1em;
}
.used em {
  font-style: normal;
  border-left: 2px solid var(--rule);
  padding-left: 6px;
  margin-left: 6px;
}
.fill {
  border-top: 1px solid var(--rule);
  padding-top: var(--space-2);
  display: grid;
  gap: 6px;
}
.fill > * {
  margin: 4px 0;
}
.fill summary {
  cursor: pointer;
}
.curvehead {
  display: flex;
  align-items: baseline;
  gap: var(--space-3);
}
.curvehead select {
  margin-left: auto;
  max-width: 220px;
}
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
}
.steps li {
  border-bottom: 1px solid var(--rule);
  padding: 7px 0;
}
.steps .line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
  overflow-x: auto;
}
.result {
  white-space: nowrap;
}
.last .result {
  font-size: 20px;
}
.steps details p {
  margin: 2px 0;
}
.steps summary {
  cursor: pointer;
}
.meaning {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-3);
  font-size: 16px;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
@media (max-width: 900px) {
  .workings,
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .left {
    position: static;
    max-height: none;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
    padding-right: var(--space-3);
  }
  .left nav {
    max-height: 210px;
    overflow-y: auto;
  }
}
</style>
