<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap } from '@/api/client'
import { makesLessons, units } from '@/api/session'
import { inOne, useTold } from '@/api/told'
import SliderRow from '@/parts/controls/SliderRow.vue'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import SheetTable from '@/features/values/SheetTable.vue'
import { rowsOf, SCHOOL, type Air } from '@/features/values/sheet'
import { day } from '@/format/dates'
import EngineSelect from '@/parts/choice/EngineSelect.vue'
import PickOne from '@/parts/choice/PickOne.vue'

/** What sound engines show: one engine in one condition, in some air, beside another engine and the school's own values. */
const { t, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { catalogue, channels, quantities, conditions } = useCatalogue()
const { told } = useTold()

const asked = (name: string, fallback: string) =>
  computed({
    get: () => (typeof route.query[name] === 'string' ? (route.query[name] as string) : fallback),
    set: (value: string) => router.replace({ query: { ...route.query, [name]: value || undefined } }),
  })
const rigId = asked('rig', 'R1')
const otherId = asked('beside', '')
const condition = asked('condition', 'hot_idle')
const layer = ref('scan')
const air = ref<Air>({ ...SCHOOL })
const settled = ref<Air>({ ...SCHOOL })
let timer: number | undefined
watch(
  air,
  (next) => {
    window.clearTimeout(timer)
    timer = window.setTimeout(() => (settled.value = { ...next }), 250)
  },
  { deep: true },
)
const isElsewhere = computed(() =>
  Object.entries(SCHOOL).some(([name, value]) => settled.value[name as keyof Air] !== value),
)

function useSheet(rig: () => string, where: () => Air, on: () => boolean) {
  return useQuery({
    queryKey: ['values', computed(rig), condition, computed(where)],
    queryFn: ({ signal }) =>
      unwrap(
        client.GET('/api/rigs/{rig}/values', {
          params: { path: { rig: rig() }, query: { condition: condition.value, ...where() } },
          signal,
        }),
      ),
    enabled: computed(on),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  })
}
const here = useSheet(
  () => rigId.value,
  () => settled.value,
  () => true,
)
const school = useSheet(
  () => rigId.value,
  () => SCHOOL,
  () => isElsewhere.value,
)
const other = useSheet(
  () => otherId.value,
  () => settled.value,
  () => otherId.value !== '',
)
const own = useQuery({
  queryKey: ['service-values', rigId],
  queryFn: () => unwrap(client.GET('/api/rigs/{rig}/service-values', { params: { path: { rig: rigId.value } } })),
})

const rig = computed(() => catalogue.value?.rigs.find((entry) => entry.id === rigId.value))
const otherRig = computed(() => catalogue.value?.rigs.find((entry) => entry.id === otherId.value))
const rows = computed(() =>
  here.data.value
    ? rowsOf(
        {
          here: here.data.value,
          school: isElsewhere.value ? school.data.value : undefined,
          other: otherId.value ? other.data.value : undefined,
          own: own.data.value ?? [],
          condition: condition.value,
          layer: layer.value,
        },
        channels.value,
        quantities.value,
        units.value,
      )
    : [],
)
const conditionGroups = computed(() => [
  {
    label: t('values.condition'),
    entries: (here.data.value?.conditions ?? []).map((id) => ({
      value: id,
      label: conditions.value.get(id)?.label ?? id,
    })),
  },
])
const say = (value: number, quantity: string, digits: number) => inOne(told(value, quantity, digits))
const where = computed(() =>
  [
    say(settled.value.celsius, 'temperature', 0),
    say(settled.value.altitude, 'altitude', 0),
    here.data.value ? say(here.data.value.kpa, 'pressure_abs', 1) : '',
    settled.value.ethanol ? t('values.ethanolShare', { n: Math.round(100 * settled.value.ethanol) }) : '',
  ]
    .filter(Boolean)
    .join(', '),
)
const settledQuery = computed(() =>
  new URLSearchParams(Object.entries(settled.value).map(([name, value]) => [name, String(value)])).toString(),
)
const table = computed(() => `/api/rigs/${rigId.value}/values/table?${settledQuery.value}`)
const paper = computed(() => `/api/rigs/${rigId.value}/values/paper?${settledQuery.value}`)
/** The sheet of a whole population in that air: minutes of a worker, then it takes the estimate's place. */
const full = useMutation({
  mutationFn: () =>
    unwrap(
      client.POST('/api/rigs/{rig}/values/full', {
        params: { path: { rig: rigId.value } },
        body: { air: { ...settled.value } },
      }),
    ),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['values'] }),
})
const blank = ref(false)
const print = () => window.print()
const problem = computed(() => full.error.value ?? here.error.value ?? other.error.value ?? own.error.value)

function changed(fresh: unknown) {
  queries.setQueryData(['service-values', rigId.value], fresh)
}
async function forget(id: number) {
  changed(
    await unwrap(
      client.DELETE('/api/rigs/{rig}/service-values/{value_id}', {
        params: { path: { rig: rigId.value, value_id: id } },
      }),
    ),
  )
}
</script>

<template>
  <div class="values">
    <aside class="left no-print">
      <span class="label">{{ t('bench.rig') }}</span>
      <EngineSelect :value="rigId" @choose="(next) => (rigId = next)" />
      <span class="label">{{ t('values.beside') }}</span>
      <EngineSelect :value="otherId" @choose="(next) => (otherId = next)" />
      <button v-if="otherId" type="button" class="plain small" @click="otherId = ''">{{ t('values.alone') }}</button>
      <h2>{{ t('values.air') }}</h2>
      <SliderRow
        v-model="air.celsius"
        :label="t('live.air')"
        :value="air.celsius"
        :low="-20"
        :high="45"
        unit="°C"
        :words="(celsius) => say(celsius, 'temperature', 0)"
        @slide="(celsius) => (air.celsius = celsius)"
      />
      <SliderRow
        :label="t('values.height')"
        :value="air.altitude"
        :low="0"
        :high="3000"
        :step="50"
        unit="m"
        :words="(metres) => say(metres, 'altitude', 0)"
        @slide="(metres) => (air.altitude = metres)"
      />
      <SliderRow
        v-if="rig?.channels.includes('stoichiometry')"
        :label="t('values.ethanol')"
        :value="Math.round(100 * air.ethanol)"
        :low="0"
        :high="85"
        unit="%"
        @slide="(percent) => (air.ethanol = percent / 100)"
      />
      <p v-if="isElsewhere" class="small note">
        {{ t(here.data.value?.estimated === false ? 'values.fullThere' : 'values.estimated') }}
        <button
          v-if="makesLessons && here.data.value?.estimated"
          type="button"
          class="plain"
          :disabled="full.isPending.value"
          @click="full.mutate()"
        >
          {{ t(full.isPending.value ? 'values.fullRuns' : 'values.full') }}
        </button>
        <button type="button" class="plain" @click="air = { ...SCHOOL }">{{ t('values.back') }}</button>
      </p>
      <h2>{{ t('values.take') }}</h2>
      <label class="check small"><input v-model="blank" type="checkbox" /> {{ t('values.blank') }}</label>
      <div class="buttons">
        <button type="button" @click="print">{{ t('values.print') }}</button>
        <a class="tool" :href="`${paper}&blank=${blank}`" download>{{ t('values.pdf') }}</a>
        <a class="tool" :href="table" download>{{ t('values.csv') }}</a>
      </div>
    </aside>
    <main class="main">
      <header class="top">
        <div>
          <h1>{{ t('values.title', { rig: rig?.name ?? rigId }) }}</h1>
          <p v-if="here.data.value" class="small soft">
            {{ t('values.lead', { n: here.data.value.members ?? 0, where }) }}
            <b v-if="here.data.value.estimated">{{ t('values.estimateMark') }}</b>
            <span class="only-print">{{ day(new Date().toISOString(), locale) }}</span>
          </p>
        </div>
        <div v-if="here.data.value" class="pick">
          <PickOne
            :value="condition"
            :groups="conditionGroups"
            :label="t('values.condition')"
            @choose="(next) => (condition = next)"
          />
        </div>
      </header>
      <p class="small meaning">{{ conditions.get(condition)?.meaning }}</p>
      <ChoiceRow
        class="no-print layers"
        :label="t('values.layer')"
        :value="layer"
        :choices="['scan', 'pin', 'truth'].map((id) => ({ id, label: t(`layer.${id}`) }))"
        @choose="(id) => (layer = id)"
      />
      <p v-if="problem" class="problem" role="alert">{{ sentence(problem) }}</p>
      <p v-else-if="!here.data.value" class="soft" role="status">{{ t('values.computing') }}</p>
      <p v-else-if="!rows.length" class="soft">{{ t('values.none') }}</p>
      <SheetTable
        v-else
        :class="{ waiting: here.isFetching.value }"
        :rows="rows"
        :rig="rigId"
        :condition="condition"
        :elsewhere="isElsewhere"
        :beside="otherId ? (otherRig?.name ?? otherId) : ''"
        :with-own="!!own.data.value?.length"
        :blank="blank"
        @changed="changed"
        @forget="forget"
      />
      <p class="small soft foot">{{ t('values.foot') }}</p>
    </main>
  </div>
</template>

<style scoped>
.values {
  display: grid;
  grid-template-columns: 236px minmax(0, 1fr);
  min-height: calc(100vh - 47px);
}
.left {
  background: var(--surface-sunk);
  border-right: 1px solid var(--rule);
  padding: var(--space-3) var(--space-3) var(--space-4) var(--space-4);
}
.left h2 {
  margin: var(--space-4) 0 var(--space-1);
}
.left .label {
  display: block;
  margin-top: var(--space-2);
}
.check {
  display: block;
  margin-bottom: var(--space-2);
}
.buttons a {
  text-decoration: none;
}
.plain:not(table) {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 2px 0;
  text-align: left;
}
.note {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.main {
  padding: var(--space-3) var(--space-4);
  min-width: 0;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-4);
  align-items: flex-start;
}
.top h1 {
  margin: 0;
}
.top p {
  margin: 2px 0 0;
}
.pick {
  flex: 0 1 260px;
  margin-left: auto;
}
.meaning::first-letter {
  text-transform: uppercase;
}
.layers {
  max-width: 340px;
}
.waiting {
  opacity: 0.6;
}
.foot {
  max-width: 90ch;
  margin-top: var(--space-4);
}
.only-print {
  display: none;
}
@media (max-width: 820px) {
  .values {
    grid-template-columns: minmax(0, 1fr);
  }
  .left {
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
}
@media print {
  .values {
    display: block;
  }
  .main {
    padding: 0;
  }
  .only-print {
    display: inline;
  }
}
</style>
