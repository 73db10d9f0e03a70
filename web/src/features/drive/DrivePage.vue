<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@/api/debounced'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { useTold } from '@/api/told'
import FaultList from '@/parts/faults/FaultList.vue'
import ChannelSelect from '@/parts/choice/ChannelSelect.vue'
import EngineSelect from '@/parts/choice/EngineSelect.vue'
import { named } from '@/parts/choice/groups'
import { useBeside } from '@/features/drive/beside'
import LaneStack from '@/parts/lanes/LaneStack.vue'
import CautionNote from '@/parts/prose/CautionNote.vue'
import ThreadLine from '@/parts/thread/ThreadLine.vue'

/** The bench: an engine along a script, good beside faulty, on the thread and in lanes. */
const { t } = useI18n()
const { catalogue, conditions, faultKinds } = useCatalogue()
const { toldOf } = useTold()

const faults = ref<Schemas['FaultSpec'][]>([
  { kind: 'manifold_vacuum_leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } },
])
const lanes = ref(['rpm', 'maf', 'total_trim', 'ho2s_b1s1_v'])
const laneHeight = computed(() => (lanes.value.length > 4 ? 88 : 108))
const showGood = ref(true)
const condition = ref('hot_idle')
const stack = ref<InstanceType<typeof LaneStack>>()

const rigId = ref('R1')
const script = ref('workshop_day')
const rig = computed(() => catalogue.value?.rigs.find((r) => r.id === rigId.value))
/** The thread shows one value per sensor besides the drawn lanes; both come with one run. */
const asked = computed(() => {
  const onThread = (rig.value?.sensors ?? []).map((sensor) => sensor.channels[0] ?? '')
  return [...new Set([...lanes.value, ...onThread])].filter(Boolean).slice(0, 16)
})
/** Nothing is asked before it is known which sensors the engine has. */
const wish = computed(
  () => rig.value && { rig: rigId.value, script: script.value, faults: faults.value, seed: 0, channels: asked.value },
)
const settled = refDebounced(wish, 90)

function isSameDrive(asked: unknown): boolean {
  const other = asked as typeof settled.value
  return other?.rig === settled.value?.rig && other?.script === settled.value?.script
}

const drive = useBeside()
const run = useQuery({
  queryKey: ['bench', settled],
  queryFn: ({ signal }) => drive(settled.value!, (body) => unwrap(client.POST('/api/bench/run', { body, signal }))),
  enabled: computed(() => !!settled.value?.channels.length),
  // What was computed for another engine or script never stands under this one's name.
  placeholderData: (before, asked) => (isSameDrive(asked?.queryKey[1]) ? before : undefined),
  staleTime: Infinity,
  gcTime: 60_000,
})

/** In the place of what a run will show. */
const awaited = computed(() => (run.error.value ? '' : t('app.loading')))

const knots = computed(() =>
  (rig.value?.sensors ?? []).map((sensor) => {
    const name = sensor.channels[0] ?? ''
    const reading = run.data.value?.readings?.find((r) => r.channel === name && r.condition === condition.value)
    const value = toldOf(name, reading?.value)
    return {
      id: sensor.id,
      label: sensor.term,
      sub: `${sensor.name}, ${sensor.place}`,
      value: value.text,
      unit: value.unit,
      family: sensor.family,
      verdict: reading?.verdict,
    }
  }),
)
const picked = ref('')

function pick(id: string) {
  picked.value = id
  const name = rig.value?.sensors.find((s) => s.id === id)?.channels[0]
  if (name && !lanes.value.includes(name)) lanes.value = [...lanes.value.slice(0, 5), name]
}

const here = computed(() => rig.value?.channels ?? [])

/** What another engine measures instead. */
const OTHERWISE: Record<string, string[]> = {
  maf: ['map', 'charge_pressure'],
  map: ['maf', 'charge_pressure'],
  charge_pressure: ['map', 'maf'],
  ho2s_b1s1_v: ['lambda_wideband', 'egr_position'],
  lambda_wideband: ['ho2s_b1s1_v', 'egr_position'],
  egr_position: ['ho2s_b1s1_v', 'lambda_wideband'],
  total_trim: ['fuel_mass'],
  fuel_mass: ['total_trim'],
}

/** Another engine keeps the lanes that it has; where it measures air otherwise, that sensor takes the place. */
function changeRig(next: string) {
  const channels = catalogue.value?.rigs.find((r) => r.id === next)?.channels ?? []
  const swapped = lanes.value.map((name) =>
    channels.includes(name) ? name : (OTHERWISE[name]?.find((other) => channels.includes(other)) ?? name),
  )
  lanes.value = [...new Set(swapped)].filter((name) => channels.includes(name))
  const offered = catalogue.value?.rigs.find((r) => r.id === next)?.faults ?? {}
  faults.value = faults.value.filter((fault) =>
    Object.entries(offered[fault.kind] ?? { none: [] }).every(([name, choices]) =>
      choices.includes(String(fault.params?.[name] ?? choices[0])),
    ),
  )
  rigId.value = next
}

function changeScript(next: string) {
  script.value = next
  const conditions = catalogue.value?.scripts.find((entry) => entry.id === next)?.conditions ?? []
  if (!conditions.includes(condition.value))
    condition.value = conditions.includes('hot_idle') ? 'hot_idle' : (conditions[0] ?? '')
}

const kinds = computed(() => faults.value.flatMap((f) => faultKinds.value.get(f.kind) ?? []))
const cautions = computed(() => [...new Set(kinds.value.flatMap((kind) => kind.cautions)), t('bench.cautionGeneral')])
watch(condition, (next) => stack.value?.focusOn(next))
</script>

<template>
  <div class="bench">
    <div class="way">
      <div class="way-head">
        <h1 class="visually-hidden">{{ t('bench.title') }}</h1>
        <EngineSelect class="rig" :value="rigId" @choose="changeRig" />
        <span class="soft small">{{ rig?.description }}</span>
        <div class="label">
          {{ t('editor.script') }}
          <ChooseOne
            :value="script"
            :entries="named(catalogue?.scripts ?? [])"
            :label="t('editor.script')"
            @choose="changeScript"
          />
        </div>
        <div class="label">
          {{ t('bench.figures', { condition: '' }) }}
          <ChooseOne
            :value="condition"
            :entries="
              (run.data.value?.windows ?? []).map((window) => ({ value: window.condition, label: window.label }))
            "
            :label="t('bench.figures', { condition: '' })"
            @choose="(next) => (condition = next)"
          />
        </div>
      </div>
      <ThreadLine :knots="knots" :selected="picked" :label="t('bench.onThread')" show-verdict @pick="pick" />
    </div>
    <aside class="faults">
      <h2>{{ t('bench.faults') }}</h2>
      <FaultList :faults="faults" :rig="rig" @change="(next) => (faults = next)" />
      <p v-if="run.error.value" class="problem" role="alert">{{ sentence(run.error.value) }}</p>
      <div class="codes small">
        <span class="label">{{ t('bench.codes') }}</span>
        <p v-if="!run.data.value" class="soft">{{ awaited || '–' }}</p>
        <p v-else-if="!run.data.value.codes?.length" class="soft">{{ t('bench.noCodes') }}</p>
        <p v-for="code in run.data.value?.codes" :key="code.id">
          <b>{{ code.id }}</b> {{ code.meaning }}
        </p>
      </div>
      <dl v-for="kind in kinds" :key="kind.id" class="small cure">
        <dt class="label">{{ t('bench.proof') }}</dt>
        <dd>{{ kind.proof }}</dd>
        <dt class="label">{{ t('bench.repair') }}</dt>
        <dd>{{ kind.repair }}</dd>
      </dl>
      <CautionNote :texts="cautions" />
    </aside>
    <div class="main" :class="{ busy: run.isFetching.value }">
      <LaneStack
        v-if="run.data.value"
        ref="stack"
        :lanes="run.data.value"
        :channels="lanes"
        :available="here"
        :show-good="showGood"
        :lane-height="laneHeight"
        removable
        @remove="(name) => (lanes = lanes.filter((n) => n !== name))"
        @swap="(from, to) => (lanes = lanes.map((n) => (n === from ? to : n)))"
      />
      <!-- As high as its lanes will be: what stands below must not move from under a hand. -->
      <p v-else class="soft" :style="{ minHeight: `${lanes.length * (laneHeight + 1) + 89}px` }">
        {{ awaited }}
      </p>
      <div class="under">
        <label class="label">
          <input v-model="showGood" type="checkbox" />
          {{ t('bench.showGood') }}
        </label>
        <ChannelSelect
          v-if="lanes.length < 7"
          class="add"
          value=""
          :prompt="t('bench.addLane')"
          :only="here"
          :without="lanes"
          @choose="(name) => (lanes = [...lanes, name])"
        />
        <span class="small soft hint">{{ t('lanes.cursorHint') }}</span>
        <span v-if="run.data.value?.sound_alarms" class="small soft together">{{
          t('bench.together', { percent: Math.round(100 * run.data.value.sound_alarms) })
        }}</span>
        <span class="visually-hidden">{{ conditions.get(condition)?.meaning }}</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 262px minmax(0, 1fr);
  grid-template-rows: auto 1fr;
  min-height: calc(100vh - 47px);
}
.way {
  grid-column: 1 / -1;
  padding: var(--space-2) var(--space-4) 0;
  border-bottom: 1px solid var(--rule);
}
.way-head {
  display: flex;
  align-items: baseline;
  gap: var(--space-3);
  margin-bottom: 6px;
}
.way-head h1 {
  font-size: 18px;
  margin: 0;
  white-space: nowrap;
}
.rig {
  flex: 0 0 290px;
  font-weight: 600;
}
.add {
  flex: 0 1 240px;
}
.way-head .small {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.way-head .label {
  white-space: nowrap;
}
.way-head .label .pick {
  width: 180px;
}
.faults {
  padding: var(--space-3) var(--space-3) var(--space-3) var(--space-4);
  border-right: 1px solid var(--rule);
  background: var(--surface-sunk);
}
.codes {
  border-top: 1px solid var(--rule);
  margin-top: var(--space-3);
  padding-top: var(--space-2);
}
.codes p {
  margin: 0;
}
.cure {
  margin: var(--space-3) 0;
}
.cure dd {
  margin: 0 0 var(--space-2);
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.main {
  padding: var(--space-3) var(--space-4);
  min-width: 0;
}
.main.busy {
  cursor: progress;
}
.under {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--space-2) var(--space-4);
  margin-top: var(--space-2);
}
.hint {
  margin-left: auto;
}
.together {
  flex-basis: 100%;
  text-align: right;
}
@media (max-width: 900px) {
  .way-head {
    flex-wrap: wrap;
  }
  .way-head .small {
    display: none;
  }
}
@media (max-width: 640px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
  .way,
  .main,
  .faults {
    padding-left: var(--space-3);
    padding-right: var(--space-3);
  }
  .faults {
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
  .rig,
  .way-head .label {
    flex: 1 1 100%;
  }
  .way-head select {
    max-width: 100%;
  }
  .under {
    flex-wrap: wrap;
  }
  .hint {
    display: none;
  }
}
</style>
