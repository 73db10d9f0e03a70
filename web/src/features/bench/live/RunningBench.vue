<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, ref, shallowRef, toRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, unwrap, type Schemas } from '@/api/client'
import { makesLessons } from '@/api/session'
import { actsOf, useCautions } from '@/features/bench/live/cautions'
import { shownOf, within } from '@/features/bench/live/cover'
import BenchHead from '@/features/bench/live/BenchHead.vue'
import CodesPart from '@/features/bench/live/CodesPart.vue'
import { useDesk } from '@/features/bench/live/desk'
import HandsPanel from '@/features/bench/live/HandsPanel.vue'
import { useLine, type Doing } from '@/features/bench/live/line'
import type { Ghost } from '@/features/bench/live/ghost'
import HosesPart from '@/features/bench/live/HosesPart.vue'
import LiveLanes from '@/features/bench/live/LiveLanes.vue'
import PlaceCard from '@/features/bench/live/PlaceCard.vue'
import RecordPart from '@/features/bench/live/RecordPart.vue'
import StationCard from '@/features/bench/live/StationCard.vue'
import StopDialog from '@/features/bench/live/StopDialog.vue'
import { useThread } from '@/features/bench/live/thread'
import WrongPanel from '@/features/bench/live/WrongPanel.vue'
import InstrumentSlip from '@/features/bench/slips/InstrumentSlip.vue'
import KeptReadings from '@/features/bench/slips/KeptReadings.vue'
import { useTaken } from '@/features/bench/slips/taken'
import { takeAlong } from '@/features/workings/moment'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'
import PickOne from '@/parts/choice/PickOne.vue'
import { useKeys } from '@/parts/controls/keys'
import CautionNote from '@/parts/prose/CautionNote.vue'
import ThreadLine from '@/parts/thread/ThreadLine.vue'

/** A running engine with everything around it. One that keeps its secret shows and lets be touched what its cover says;
 * `begin`: lanes that stand there at first. */
const props = defineProps<{ bench: Schemas['BenchRow']; benches: Schemas['BenchRow'][]; begin?: string[] }>()
const emit = defineEmits<{ rig: [rig: string]; bench: [id: number]; close: [] }>()
const { t } = useI18n()
const { catalogue, channels: allChannels, faultKinds } = useCatalogue()

const FIRST = ['rpm', 'maf', 'map', 'total_trim', 'ho2s_b1s1_v', 'lambda_wideband', 'charge_pressure']
const MOST_LANES = 7
const known = computed(() => catalogue.value?.rigs.find((r) => r.id === props.bench.rig))
const { lanes, slips, kept } = useDesk(props.bench.id)
watch(
  known,
  (engine) => {
    if (!engine || lanes.value.length) return
    lanes.value = props.begin ?? FIRST.filter((name) => engine.channels.includes(name)).slice(0, 4)
  },
  { immediate: true },
)
const line = useLine(
  toRef(() => props.bench.id),
  lanes,
)
const { state, vehicle, cover, codes, now, marks } = line
const rig = computed(() => (known.value && cover.value ? shownOf(known.value, allChannels.value) : known.value))
const asked = useQuery({
  queryKey: ['reach', toRef(() => props.bench.rig)],
  queryFn: () => unwrap(client.GET('/api/rigs/{rig}/reach', { params: { path: { rig: props.bench.rig } } })),
  staleTime: Infinity,
})
const reach = computed(() =>
  asked.data.value && cover.value ? within(asked.data.value, cover.value) : asked.data.value,
)

/** A learner names the measures on every bench, who teaches on every device. */
const {
  words,
  mayGoOn,
  asked: caution,
} = useCautions(
  computed(() => reach.value?.cautions ?? []),
  makesLessons.value ? 'cautions named' : `bench ${props.bench.id} cautions named`,
)
const showTwin = ref(true)
const picked = ref('')
const projected = ref(false)
const hidesFault = ref(false)
const refused = ref('')

async function act(doing: Doing) {
  if (!(await mayGoOn(actsOf(doing)))) return
  refused.value = await line.act(doing)
}

const { knots, branches, parts } = useThread({ rig, reach, vehicle, now, marks })
const station = computed(() => parts.value.get(picked.value))

const sensor = computed(() => rig.value?.sensors.find((entry) => entry.id === picked.value))

function addLane(name: string) {
  if (lanes.value.includes(name)) return
  lanes.value = [...lanes.value.slice(0, MOST_LANES - 1), name]
}

function pick(id: string) {
  picked.value = picked.value === id ? '' : id
  const name = rig.value?.sensors.find((entry) => entry.id === id)?.channels[0]
  if (name && picked.value && rig.value?.channels.includes(name)) addLane(name)
}

/** What a recording holds: the lanes, and what every sensor displays. */
const recorded = computed(() => {
  const displays = (rig.value?.sensors ?? []).map((entry) => entry.channels[0] ?? '')
  const all = [...lanes.value, 'rpm', ...displays]
  return [...new Set(all)].filter((name) => rig.value?.channels.includes(name))
})
const stack = ref<InstanceType<typeof LiveLanes>>()
const ghost = shallowRef<Ghost>()

const {
  groups: instrumentGroups,
  take,
  probe,
  inUse,
} = useTaken(slips, reach, picked, (id) => mayGoOn([`instrument:${id}`]))
const changes = computed(() => line.events.value.filter((event) => !DRIVING.has(event.doing.do)).length)
const DRIVING = new Set([
  'turn_key',
  'move_pedal',
  'hold_speed',
  'hold_load',
  'snap',
  'drive',
  'neutral',
  'mark',
  'lapse_time',
  'switch_consumers',
  'connect_charger',
])

const cautions = computed(() => {
  // What goes with a fault would tell it; the trainer who hides it has read it.
  const put = hidesFault.value ? [] : (vehicle.value?.faults ?? [])
  const kinds = put.flatMap((entry) => faultKinds.value.get(entry.fault.kind) ?? [])
  return [...new Set(kinds.flatMap((kind) => kind.cautions)), ...words(['always']), t('bench.cautionGeneral')]
})
const paused = computed(() => state.pace === 0)
let before = 1
function pause() {
  if (paused.value) return line.setPace(before)
  before = state.pace
  line.setPace(0)
}
/** This instant's displays and truths, taken to the workings. */
const router = useRouter()
function workOut() {
  if (!now.value) return
  const name = rig.value?.name ?? props.bench.rig
  takeAlong({ rig: props.bench.rig, name, seconds: line.seconds.value, values: now.value.values })
  router.push({ name: 'workings', query: { from: 'bench' } })
}

const note = ref('')
function mark() {
  const words = note.value.trim() || t('live.markHere')
  note.value = ''
  act({ do: 'mark', words })
}

/** On a projector nothing but the thread and the lanes is in sight. */
watch(projected, (on) => document.documentElement.classList.toggle('projecting', on))
onBeforeUnmount(() => document.documentElement.classList.remove('projecting'))

useKeys(() => ({
  p: () => (projected.value = !projected.value),
  t: pause,
  m: mark,
  h: () => (hidesFault.value = !hidesFault.value),
  g: () => (showTwin.value = !showTwin.value),
  s: () => act({ do: 'snap' }),
}))
</script>

<template>
  <div class="bench" :class="{ projected }">
    <BenchHead
      class="head"
      :line="line"
      :bench="bench"
      :benches="benches"
      :rig="rig"
      :projected="projected"
      :covered="cover !== null"
      @rig="(next) => emit('rig', next)"
      @bench="(id) => emit('bench', id)"
      @close="emit('close')"
      @pause="pause"
      @project="projected = !projected"
    />
    <p v-if="state.ended || refused || state.problem" class="problem" role="alert">
      {{ state.ended || refused || state.problem }}
    </p>
    <p v-else-if="!state.connected" class="small soft lost" role="status">{{ t('live.connecting') }}</p>
    <StopDialog :caution="caution?.caution" @go="(on) => caution?.go(on)" />
    <div class="way">
      <ThreadLine
        :knots="knots"
        :branches="projected ? [] : branches"
        :selected="picked"
        :label="t('live.onThread')"
        @pick="pick"
      />
    </div>
    <aside v-if="vehicle && !projected" class="left">
      <HandsPanel
        :vehicle="vehicle"
        :rpm="now?.values.rpm_true ?? now?.values.rpm ?? null"
        :rig="rig"
        :working="state.working"
        @act="act"
      />
      <p v-if="state.working" class="small working" role="status">{{ t(`live.working.${state.working}`) }}</p>
      <WrongPanel v-if="makesLessons && !cover && !hidesFault" class="part" :vehicle="vehicle" :rig="rig" @act="act" />
      <button v-if="makesLessons && !cover" type="button" class="plain small" @click="hidesFault = !hidesFault">
        {{ t(hidesFault ? 'live.showFault' : 'live.hideFault') }}
      </button>
      <CodesPart
        v-if="codes"
        class="part"
        :codes="codes"
        :fixed="cover !== null && !cover.hands.includes('memory')"
        :minding="words(['do:clear_codes'])"
        @act="act"
      />
      <CautionNote :texts="cautions" />
    </aside>
    <div class="main">
      <LiveLanes
        ref="stack"
        :ghost="ghost"
        :line="line"
        :channels="projected ? lanes.slice(0, 4) : lanes"
        :available="rig?.channels ?? []"
        :show-twin="showTwin && !cover"
        :secret="hidesFault || projected"
        :removable="!projected"
        :lane-height="projected ? 128 : lanes.length > 4 ? 84 : 104"
        @remove="(name) => (lanes = lanes.filter((n) => n !== name))"
        @swap="(from, to) => (lanes = lanes.map((n) => (n === from ? to : n)))"
      />
      <div v-if="!projected" class="under">
        <label v-if="!cover" class="label"><input v-model="showTwin" type="checkbox" /> {{ t('live.showTwin') }}</label>
        <ChannelSelect
          v-if="lanes.length < MOST_LANES"
          class="add"
          value=""
          :prompt="t('bench.addLane')"
          :only="rig?.channels ?? []"
          :without="lanes"
          @choose="addLane"
        />
        <button type="button" class="tool" @click="workOut">{{ t('live.workOut') }}</button>
        <form class="marking" @submit.prevent="mark">
          <input v-model="note" type="text" maxlength="120" :placeholder="t('live.markWords')" />
          <button type="submit" class="tool">{{ t('live.mark') }}</button>
        </form>
      </div>
    </div>
    <aside v-if="vehicle && now && !projected" class="right">
      <PlaceCard
        v-if="sensor"
        :sensor="sensor"
        :rig="rig"
        :now="now"
        :marks="marks"
        :vehicle="vehicle"
        :reach="reach"
        :lanes="lanes"
        :circuit="line.circuit"
        :words="words"
        @act="act"
        @probe="probe"
        @lane="addLane"
        @close="picked = ''"
      />
      <StationCard
        v-else-if="station"
        :station="station"
        :rig="rig?.id"
        :words="words"
        :now="now"
        :vehicle="vehicle"
        :lanes="lanes"
        @act="act"
        @lane="addLane"
        @close="picked = ''"
      />
      <p v-else class="small soft">{{ t('live.pickPlace') }}</p>
      <PickOne
        v-if="instrumentGroups[0]?.entries.length"
        value=""
        :groups="instrumentGroups"
        :label="t('live.takeInstrument')"
        :prompt="t('live.takeInstrument')"
        @choose="take"
      />
      <div class="slips">
        <InstrumentSlip
          v-for="slip in inUse"
          :key="slip.key"
          :bench="bench.id"
          :measure="line.measure"
          :instrument="slip.instrument"
          :substitutes="marks.substitutes"
          :minding="words([`instrument:${slip.id}`])"
          :tips="slip.tips"
          :condition="now.condition"
          :changes="changes"
          :place="slip.place"
          :wire="slip.wire"
          :air="{ celsius: vehicle.weather.temp_C, kpa: vehicle.weather.baro_kPa, stood_h: vehicle.stood_h }"
          @keep="(reading) => (kept = [...kept, reading])"
          @close="slips = slips.filter((other) => other.key !== slip.key)"
        />
      </div>
      <KeptReadings v-if="kept.length" :readings="kept" :rig="bench.rig" @change="(next) => (kept = next)" />
      <RecordPart
        v-if="!cover"
        :bench="bench.id"
        :rig="bench.rig"
        :channels="recorded"
        :lanes="lanes"
        :view="() => stack?.range ?? [0, line.seconds.value]"
        :seconds="() => line.seconds.value"
        :ghost="ghost"
        @lay="(next) => ((ghost = next), (showTwin = true))"
      />
      <HosesPart v-if="reach?.hoses.length" :reach="reach" :vehicle="vehicle" @act="act" />
    </aside>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 236px minmax(0, 1fr) 268px;
  grid-template-rows: auto auto auto 1fr;
  min-height: calc(100vh - 47px);
}
.head,
.way,
.problem,
.lost {
  grid-column: 1 / -1;
}
.problem,
.lost {
  margin: 0;
  padding: 5px var(--space-4);
  background: var(--accent-pale);
}
.way {
  padding: 6px var(--space-4) 0;
  border-bottom: 1px solid var(--rule);
}
.left,
.right {
  grid-row: 4;
  background: var(--surface-sunk);
  padding: var(--space-3);
  min-width: 0;
}
.left {
  border-right: 1px solid var(--rule);
  padding-left: var(--space-4);
}
.right {
  border-left: 1px solid var(--rule);
  padding-right: var(--space-4);
}
.main {
  grid-row: 4;
  padding: var(--space-3) var(--space-4);
  min-width: 0;
}
.part {
  border-top: 1px solid var(--rule);
  margin-top: var(--space-2);
  padding-top: var(--space-2);
}
.working {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.plain {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 4px 0;
}
.under {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-2) var(--space-4);
  margin-top: var(--space-2);
}
.add {
  flex: 0 1 150px;
}
.marking input {
  width: 140px;
}
.marking {
  display: flex;
  gap: 4px;
  margin-left: auto;
}
.slips {
  margin-top: var(--space-2);
}
.projected {
  grid-template-columns: minmax(0, 1fr);
  font-size: 17px;
}
.projected .main {
  grid-column: 1;
}
.projected .main :deep(.big) {
  font-size: 34px;
}
.projected .main :deep(.title) {
  font-size: 18px;
}
/* Where there is room, hands and instruments scroll by themselves and the lanes stay in sight. */
@media (min-width: 1101px) {
  .bench:not(.projected) {
    height: calc(100vh - 47px);
  }
  .left,
  .main,
  .right {
    overflow-y: auto;
  }
}
@media (max-width: 1100px) {
  .bench {
    grid-template-columns: 220px minmax(0, 1fr);
  }
  .right {
    grid-row: 5;
    grid-column: 1 / -1;
    border-left: 0;
    border-top: 1px solid var(--rule);
    padding-left: var(--space-4);
  }
  .slips {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
    gap: 0 var(--space-3);
    align-items: start;
  }
}
@media (max-width: 700px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: none;
  }
  .left,
  .right,
  .main {
    grid-row: auto;
    grid-column: 1;
    padding-left: var(--space-3);
    padding-right: var(--space-3);
    border: 0;
    border-bottom: 1px solid var(--rule);
  }
  .main {
    order: -1;
  }
  .head,
  .way,
  .problem,
  .lost {
    order: -2;
    padding-left: var(--space-3);
    padding-right: var(--space-3);
  }
  .marking {
    margin-left: 0;
  }
}
</style>
