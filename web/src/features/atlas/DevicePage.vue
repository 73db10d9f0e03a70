<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap } from '@/api/client'
import { hasBench } from '@/api/session'
import CircuitPart from '@/features/atlas/CircuitPart.vue'
import FaultsPart from '@/features/atlas/FaultsPart.vue'
import GoodPart from '@/features/atlas/GoodPart.vue'
import SchoolCard from '@/features/atlas/SchoolCard.vue'
import { bankOf } from '@/features/atlas/bank'
import PickOne from '@/parts/choice/PickOne.vue'
import ExplorerPanel from '@/parts/explorer/ExplorerPanel.vue'
import ProseText from '@/parts/prose/ProseText.vue'
import TermText from '@/parts/terms/TermText.vue'
import ThreadLine from '@/parts/thread/ThreadLine.vue'

/** A device of the atlas on an engine: where, inside, in the hand, circuit, good, faults, tests, wrong and right, schools. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { catalogue } = useCatalogue()
const asked = computed(() => (typeof route.query.rig === 'string' ? route.query.rig : ''))
const query = useQuery({
  queryKey: ['atlas page', computed(() => props.id), asked],
  queryFn: () =>
    unwrap(
      client.GET('/api/atlas/pages/{page}', { params: { path: { page: props.id }, query: { rig: asked.value } } }),
    ),
  staleTime: Infinity,
  placeholderData: keepPreviousData,
  retry: false,
})
const page = computed(() => query.data.value)
const rig = computed(() => catalogue.value?.rigs.find((entry) => entry.id === page.value?.rig))
const rigGroups = computed(() => [
  {
    label: t('atlas.onEngine'),
    entries: (page.value?.rigs ?? []).map((id) => ({
      value: id,
      label: catalogue.value?.rigs.find((entry) => entry.id === id)?.name ?? id,
    })),
  },
])
const drawing = ref('')
watch(
  page,
  (next) => {
    const wanted = typeof route.query.drawing === 'string' ? route.query.drawing : ''
    drawing.value = next?.drawings.find((entry) => entry.id === wanted)?.id ?? next?.drawings[0]?.id ?? ''
  },
  { immediate: true },
)
const mine = computed(() => new Set((page.value?.places ?? []).map((place) => place.id)))
const knots = computed(() => {
  const sensors = new Map((rig.value?.sensors ?? []).map((sensor) => [sensor.id, sensor]))
  return (page.value?.order ?? []).flatMap((id) => {
    const sensor = sensors.get(id)
    const place = page.value?.places.find((entry) => entry.id === id)
    if (!sensor && !place) return []
    return [{ id, label: sensor?.term ?? place?.term ?? id, family: sensor?.family, minor: !mine.value.has(id) }]
  })
})
const sections = computed(() => {
  const known = page.value
  if (!known) return []
  return [
    { id: 'inside', there: true },
    { id: 'drawings', there: known.drawings.length > 0 },
    { id: 'circuit', there: known.wires.length > 0 },
    { id: 'good', there: true },
    { id: 'faults', there: known.faults.length > 0 },
    { id: 'tests', there: known.tests.length > 0 },
    { id: 'myths', there: known.myths.length > 0 },
    { id: 'schools', there: known.schools.length > 0 },
    { id: 'workings', there: known.workings.length > 0 },
  ].filter((entry) => entry.there)
})
</script>

<template>
  <div class="page">
    <p v-if="query.error.value" role="alert">{{ sentence(query.error.value) }}</p>
    <template v-else-if="page">
      <header class="top">
        <div>
          <RouterLink class="small" :to="{ name: 'atlas', query: { rig: page.rig } }">{{
            t('atlas.title')
          }}</RouterLink>
          <h1>{{ page.title }}</h1>
          <p class="lead"><TermText :text="page.summary" /></p>
          <p v-if="page.also.length" class="small soft">{{ t('atlas.also', { names: page.also.join(', ') }) }}</p>
        </div>
        <div class="engine">
          <span class="label">{{ t('atlas.onEngine') }}</span>
          <PickOne
            :value="page.rig"
            :groups="rigGroups"
            :label="t('atlas.onEngine')"
            @choose="(next) => router.replace({ query: { ...route.query, rig: next } })"
          />
        </div>
      </header>
      <ThreadLine v-if="knots.length" :knots="knots" :selected="page.places[0]?.id" :label="t('atlas.where')" compact />
      <ul v-if="page.places.length" class="places small">
        <li v-for="place in page.places" :key="place.id">
          <b>{{ place.term }}</b> {{ place.name }}<template v-if="place.place">: {{ place.place }}</template>
          <span v-if="bankOf(place.id)" class="soft">&#32;({{ t('atlas.bank', bankOf(place.id) ?? {}) }})</span>
        </li>
      </ul>
      <p v-else class="small soft">{{ t('atlas.nowhere') }}</p>
      <nav class="contents no-print" :aria-label="t('atlas.contents')">
        <a v-for="entry in sections" :key="entry.id" :href="`#${entry.id}`">{{ t(`atlas.${entry.id}`) }}</a>
      </nav>

      <section id="inside" class="inside">
        <div>
          <h2>{{ t('atlas.inside') }}</h2>
          <ProseText :text="page.inside" />
        </div>
        <div v-if="page.types.length" class="types">
          <h2>{{ t('atlas.types') }}</h2>
          <dl>
            <template v-for="kind in page.types" :key="kind.name">
              <dt>{{ kind.name }}</dt>
              <dd><TermText :text="kind.text" /></dd>
            </template>
          </dl>
        </div>
      </section>

      <section v-if="page.drawings.length" id="drawings">
        <h2>{{ t('atlas.drawings') }}</h2>
        <div v-if="page.drawings.length > 1" class="buttons" role="group" :aria-label="t('atlas.drawings')">
          <button
            v-for="entry in page.drawings"
            :key="entry.id"
            type="button"
            :aria-pressed="drawing === entry.id"
            @click="drawing = entry.id"
          >
            {{ entry.label }}
          </button>
        </div>
        <ExplorerPanel v-if="drawing" :drawing="drawing" />
      </section>

      <section v-if="page.wires.length" id="circuit">
        <h2>{{ t('atlas.circuit') }}</h2>
        <p class="small soft">{{ t('atlas.circuitLead') }}</p>
        <CircuitPart v-for="wire in page.wires" :key="wire" :rig="page.rig" :wire="wire" />
      </section>

      <section id="good">
        <h2>{{ t('atlas.good') }}</h2>
        <GoodPart :good="page.good" :rig="page.rig" />
      </section>

      <section v-if="page.faults.length" id="faults">
        <h2>{{ t('atlas.faults') }}</h2>
        <p class="small soft">{{ t('atlas.faultsLead') }}</p>
        <FaultsPart :faults="page.faults" :rig="page.rig" />
      </section>

      <section v-if="page.tests.length" id="tests">
        <h2>{{ t('atlas.tests') }}</h2>
        <table class="plain stacks">
          <thead>
            <tr>
              <th>{{ t('atlas.way') }}</th>
              <th>{{ t('atlas.how') }}</th>
              <th>{{ t('atlas.misses') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="way in page.tests" :key="way.way">
              <td :data-label="t('atlas.way')">
                <b>{{ way.way }}</b>
              </td>
              <td :data-label="t('atlas.how')">
                <div>
                  <TermText :text="way.how" />
                  <span v-for="words in way.cautions" :key="words" class="mind small">{{
                    t('atlas.caution', { words })
                  }}</span>
                </div>
              </td>
              <td :data-label="t('atlas.misses')">{{ way.misses }}</td>
            </tr>
          </tbody>
        </table>
        <p class="small soft">{{ t('atlas.cautionFoot') }}</p>
      </section>

      <section v-if="page.myths.length" id="myths">
        <h2>{{ t('atlas.myths') }}</h2>
        <dl class="myths">
          <div v-for="myth in page.myths" :id="myth.id" :key="myth.id">
            <dt>{{ myth.claim }}</dt>
            <dd><TermText :text="myth.fact" /></dd>
          </div>
        </dl>
      </section>

      <section v-if="page.schools.length" id="schools">
        <h2>{{ t('atlas.schools') }}</h2>
        <SchoolCard v-for="card in page.schools" :id="card.id" :key="card.id" :card="card" />
      </section>

      <section v-if="page.workings.length" id="workings">
        <h2>{{ t('atlas.workings') }}</h2>
        <ul class="links">
          <li v-for="working in page.workings" :key="working.id">
            <RouterLink :to="{ name: 'workings', query: { of: working.id } }">{{ working.label }}</RouterLink>
          </li>
        </ul>
      </section>
      <RouterLink v-if="hasBench" class="small" :to="{ name: 'bench', query: { rig: page.rig } }">{{
        t('atlas.openBench')
      }}</RouterLink>
    </template>
    <p v-else class="soft" role="status">{{ t('app.loading') }}</p>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-5);
}
.top > div:first-child {
  flex: 1 1 460px;
}
.engine {
  flex: 0 1 260px;
}
h1 {
  margin: 2px 0 var(--space-2);
}
.lead {
  font-size: var(--text-lead);
  max-width: 80ch;
}
.places {
  display: flex;
  flex-wrap: wrap;
  gap: 2px var(--space-4);
  list-style: none;
  margin: var(--space-2) 0;
  padding: 0;
}
.contents {
  position: sticky;
  top: 0;
  z-index: 2;
  display: flex;
  flex-wrap: wrap;
  gap: 0 var(--space-4);
  background: var(--surface);
  border-bottom: 1px solid var(--rule);
  padding: 6px 0;
  margin: var(--space-2) 0 var(--space-3);
}
.contents a {
  color: var(--text-soft);
  text-decoration: none;
  font-size: 13px;
}
section {
  margin: 0 0 var(--space-5);
  scroll-margin-top: 44px;
}
section h2 {
  border-bottom: 1px solid var(--rule);
  padding-bottom: 3px;
}
.inside {
  display: grid;
  gap: var(--space-4) var(--space-5);
}
@media (min-width: 1000px) {
  .inside {
    grid-template-columns: minmax(0, 620px) minmax(0, 1fr);
  }
}
dl {
  margin: 0;
}
.types dt {
  font-weight: 600;
}
.types dd {
  margin: 0 0 var(--space-2);
}
.mind {
  display: block;
  margin-top: 4px;
  padding-left: 8px;
  border-left: 3px solid var(--suspect);
}
.myths {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 380px), 1fr));
  gap: var(--space-3) var(--space-5);
}
.myths dt {
  color: var(--text-soft);
  text-decoration: line-through;
  text-decoration-color: var(--edge);
}
.myths dd {
  margin: 2px 0 0;
  padding-left: var(--space-2);
  border-left: 3px solid var(--good);
}
.links {
  margin: 0;
  padding-left: var(--space-4);
}
</style>
