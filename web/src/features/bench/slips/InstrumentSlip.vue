<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { sentence, type Schemas } from '@/api/client'
import { units } from '@/api/session'
import type { Tips } from '@/features/bench/live/desk'
import type { Observation, Use } from '@/features/bench/live/line'
import { drawn, familyOf, placeWord, worded, type Kept } from '@/features/bench/slips/reading'
import SlipSettings from '@/features/bench/slips/SlipSettings.vue'
import LanePlot from '@/parts/lanes/LanePlot.vue'
import CautionNote from '@/parts/prose/CautionNote.vue'

type Instrument = Schemas['InstrumentOut']
type Air = { celsius: number; kpa: number; stood_h: number }

/** An instrument in use: its settings as a sentence, what it shows, and what to mind. */
const props = defineProps<{
  bench: number
  measure: (use: Use) => Promise<Observation>
  instrument: Instrument
  /** Condition that the engine is in now. */
  condition: string | null
  /** How often hands have changed the vehicle: a reading from before is an old one. */
  changes: number
  place?: string
  /** Beginning of the names of the pins there. */
  wire?: string
  /** Where its leads were put on the drawn circuit. */
  tips?: Tips
  /** Channels whose display the control unit makes up now. */
  substitutes: string[]
  /** What is to be minded with it, beside what it says itself. */
  minding: string[]
  /** Air in which the vehicle stands. */
  air: Air
}>()
const emit = defineEmits<{ keep: [kept: Kept]; close: [] }>()
const { t } = useI18n()
const { channels, conditions, quantities } = useCatalogue()

const places = ref<string[]>(start())
const options = ref<Record<string, string>>(
  Object.fromEntries(props.instrument.options.map((option) => [option.id, option.default])),
)
const chosen = ref('')
const asked = ref<{ use: Use; changes: number; n: number; air: Air }>()

/** Where it is put first: to the place that is picked on the thread, when it fits there. */
function start(): string[] {
  const { places: fit, several } = props.instrument
  const first = props.place && fit.includes(props.place) ? props.place : (fit[0] ?? '')
  if (several !== '/') return [first]
  const signals = fit.filter((name) => name.endsWith('.signal'))
  return [signals.find((name) => name === `${props.wire}.signal`) ?? signals[0] ?? first, fit[0] ?? '']
}

/** Where it can be read: on the engine as it is now, when that is a state in which it may be used. */
const offered = computed(() => {
  const may = props.instrument.conditions
  return [...conditions.value.values()].filter((c) => !may.length || may.includes(c.id))
})
const condition = computed(() => {
  if (chosen.value) return chosen.value
  const now = offered.value.find((entry) => entry.id === props.condition)
  return now?.id ?? offered.value.find((entry) => entry.id === 'hot_idle')?.id ?? offered.value[0]?.id ?? ''
})

/** Channels within a label go by their names too. */
function called(label: string): string {
  return label.split(' ').map(wordOf).join(' ')
}
const wordOf = (name: string) => placeWord(name, channels.value, props.instrument.words)
/** Names that are covered, in an order of chance: which value is which is found by moving one thing at the vehicle. */
const covered = ref<number[]>()
function cover(on: boolean) {
  const order = places.value.map((_name, k) => ({ k, at: Math.random() })).sort((one, other) => one.at - other.at)
  covered.value = on ? order.map(({ k }) => k) : undefined
}
watch(places, () => covered.value && cover(true))
function read() {
  asked.value = {
    n: (asked.value?.n ?? 0) + 1,
    use: {
      instrument: props.instrument.id,
      place: places.value.join(props.instrument.several || ','),
      condition: condition.value,
      options: Object.fromEntries(Object.entries(options.value).map(([name, value]) => [name, String(value)])),
      seed: asked.value?.n ?? 0,
    },
    changes: props.changes,
    air: { ...props.air },
  }
}

const result = useQuery({
  queryKey: ['measure', props.bench, asked],
  queryFn: () => props.measure((asked.value as NonNullable<typeof asked.value>).use),
  enabled: computed(() => asked.value !== undefined),
  placeholderData: (before) => before,
  retry: false,
  staleTime: Infinity,
})
const seen = computed(() => result.data.value)
const isOld = computed(() => asked.value !== undefined && asked.value.changes !== props.changes)
const rows = computed(() =>
  (seen.value?.shown ?? []).map((entry) => ({
    label: called(entry.label),
    ...worded(entry, quantities.value, units.value),
  })),
)
const told = computed(() =>
  covered.value?.length === rows.value.length
    ? covered.value.flatMap((place, k) => {
        const row = rows.value[place]
        return row ? [{ ...row, label: t('live.value', { letter: 'ABCDEFGH'[k] ?? '' }), unit: '' }] : []
      })
    : rows.value,
)
/** Few things stand large; a list stands as a table. */
const large = computed(() => rows.value.length <= 2)
const traces = computed(() => (seen.value?.traces ?? []).map((trace) => drawn(trace, quantities.value, units.value)))

/** A slider that is moved reads again by itself: pump, signal and display go together. */
let last: number | undefined
function readSoon() {
  window.clearTimeout(last)
  if (asked.value) last = window.setTimeout(read, 150)
}

function keep() {
  if (!seen.value || !asked.value) return
  const { instrument, place, condition: state, shown } = seen.value
  const { use, air } = asked.value
  // What stands in a list names itself; everything else was read at a place.
  const { several } = props.instrument
  const places = several === ',' ? [] : [several ? place.split(several).map(wordOf).join(' / ') : place]
  const where = [props.instrument.label, ...places, conditions.value.get(state)?.label ?? state].join(', ')
  rows.value.forEach((row, k) => {
    const { id: what = '', label = '', value = null, text = '', sealed = '' } = shown[k] ?? {}
    emit('keep', {
      label: row.label,
      text: `${row.value} ${row.unit}`.trim(),
      where,
      at: new Date().toISOString(),
      reading: {
        instrument,
        place,
        condition: state,
        options: use.options,
        what,
        label,
        value,
        text,
        // The control unit's own making is marked for what it displays now.
        substitute: state === props.condition && props.substitutes.includes(what),
        ...air,
        sealed,
      },
    })
  })
}

/** Leads on the drawn circuit are on the meter, and it reads at once. */
watch(
  () => props.tips,
  (tips) => {
    if (!tips) return
    const [red = '', black = ''] = places.value
    places.value = [tips.red ?? red, tips.black ?? black]
    read()
  },
  { immediate: true },
)
watch(places, () => asked.value && read(), { deep: true })
</script>

<template>
  <article class="slip" :aria-label="instrument.label">
    <header>
      <h3>{{ instrument.label }}</h3>
      <span class="small soft">{{ t('live.minutes', { n: instrument.minutes }) }}</span>
      <button type="button" class="close" :aria-label="t('app.close')" @click="emit('close')">×</button>
    </header>
    <SlipSettings
      v-model:places="places"
      v-model:options="options"
      :instrument="instrument"
      :states="offered"
      :now="props.condition"
      :condition="condition"
      :covered="covered !== undefined"
      @state="(id) => (chosen = id)"
      @cover="cover"
      @slid="readSoon"
      @chosen="asked && read()"
    />
    <div class="acts">
      <button type="button" class="read" :disabled="result.isFetching.value" @click="read">
        {{ t(result.isFetching.value ? 'bench.running' : isOld ? 'live.readAgain' : 'live.read') }}
      </button>
      <button v-if="rows.length" type="button" class="plain" @click="keep">{{ t('live.keep') }}</button>
      <span v-if="isOld" class="small soft">{{ t('live.before') }}</span>
    </div>
    <p v-if="result.error.value" class="problem small" role="alert">{{ sentence(result.error.value) }}</p>
    <template v-else-if="seen">
      <p v-if="seen.refused" class="problem small">{{ seen.refused }}</p>
      <dl :class="{ large, old: isOld }" aria-live="polite">
        <div v-for="row in told" :key="row.label">
          <dt class="small soft">{{ row.label }}</dt>
          <dd>
            <span class="value">{{ row.value }}</span> <span class="small soft">{{ row.unit }}</span>
          </dd>
        </div>
      </dl>
      <figure v-for="trace in covered ? [] : traces" :key="trace.label">
        <figcaption class="small soft">{{ wordOf(trace.label) }} {{ trace.unit }}</figcaption>
        <LanePlot
          :time="trace.time"
          :run="trace.values"
          :good="null"
          :bands="[]"
          :windows="[]"
          :range="[trace.time[0] ?? 0, trace.time.at(-1) ?? 1]"
          :cursor="trace.time[0] ?? 0"
          :height="84"
          :family="familyOf(trace.id, channels)"
          layer="pin"
        />
      </figure>
      <p v-for="note in [...seen.notes, ...seen.changes]" :key="note" class="small note">{{ note }}</p>
    </template>
    <CautionNote
      :texts="[...new Set([...(seen?.cautions.length ? seen.cautions : instrument.cautions), ...minding])]"
    />
  </article>
</template>

<style scoped>
.slip {
  border: 1px solid var(--rule);
  border-top: 3px solid var(--text-soft);
  background: var(--surface);
  padding: var(--space-2) var(--space-3);
  margin-bottom: var(--space-3);
}
header {
  display: flex;
  align-items: baseline;
  gap: var(--space-2);
}
h3::first-letter {
  text-transform: uppercase;
}
.close {
  margin-left: auto;
  border: 0;
  background: none;
  font-size: 16px;
  color: var(--text-soft);
  cursor: pointer;
}
.plain {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 2px 4px;
}
.acts {
  display: flex;
  align-items: center;
  gap: var(--space-2);
  margin: 6px 0;
}
.read {
  border: 1px solid var(--accent);
  background: var(--accent);
  color: var(--surface);
  padding: 3px 14px;
  cursor: pointer;
}
.read:disabled {
  opacity: 0.6;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
dl {
  margin: 4px 0;
}
dl div {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: var(--space-2);
}
dl.large div {
  flex-direction: column;
  gap: 0;
}
dl.large .value {
  font-size: 26px;
  line-height: 1.15;
}
dl.old {
  opacity: 0.55;
}
dd {
  margin: 0;
  text-align: right;
}
dl.large dd {
  text-align: left;
}
.value {
  font-weight: 600;
}
figure {
  margin: 6px 0;
}
.note {
  margin: 3px 0;
}
</style>
