<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Rig } from '@/api/catalogue'
import { inOne, useTold } from '@/api/told'
import type { Doing, Vehicle } from '@/features/bench/live/line'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import SliderRow from '@/parts/controls/SliderRow.vue'

/** Under the hands: key, pedal, speed held, rollers, surroundings, and what takes days. */
const props = defineProps<{ vehicle: Vehicle; rpm: number | null; rig?: Rig; working: string }>()
const emit = defineEmits<{ act: [doing: Doing] }>()
const { t } = useI18n()
const { told } = useTold()

const HELD = [1500, 2500, 3000]
const WEATHER = [
  { name: 'school', temp_C: 20, baro_kPa: 101.3 },
  { name: 'frost', temp_C: -18, baro_kPa: 101.3 },
  { name: 'heat', temp_C: 38, baro_kPa: 101.3 },
  { name: 'height', temp_C: 10, baro_kPa: 79.5 },
]

function act(name: string, parts: Record<string, unknown> = {}) {
  emit('act', { do: name, ...parts })
}

/** A foot that is dragged sends ten positions a second at most, and always the last one. */
const pedal = ref(0)
let sent = 0
let last: number | undefined
function drag(percent: number) {
  pedal.value = percent
  window.clearTimeout(last)
  const wait = Math.max(0, sent + 100 - Date.now())
  last = window.setTimeout(() => {
    sent = Date.now()
    act('move_pedal', { to: percent / 100, seconds: 0.1 })
  }, wait)
}
watch(
  () => [props.vehicle.foot, props.vehicle.target] as const,
  ([foot, target]) => {
    if (foot === 'pedal') pedal.value = Math.round(target * 100)
    if (foot === 'snap') pedal.value = 0
  },
  { immediate: true },
)

const held = computed(() =>
  props.vehicle.foot === 'speed' ? String(Math.round((props.vehicle.target * 30) / Math.PI)) : 'free',
)
const isGoverned = computed(() => props.rig?.governed === true)
const onRollers = computed(() => props.vehicle.roller !== null)
const rollerSpeed = computed(() => Math.round(props.vehicle.roller?.speed ?? props.rpm ?? 2000))
const load = ref(25)

function roll(rpm: number, gear = 'road') {
  const from = Math.min(Math.max(props.vehicle.roller?.speed ?? props.rpm ?? rpm, 300), 7000)
  act('drive', { roller: [from, rpm], gear, seconds: 3 })
}

function bringToRollers(mode: string) {
  if (mode === 'neutral') return act('neutral')
  roll(Math.max(props.rpm ?? 0, 1800))
  act('hold_load', { share: 'cruise' })
}

const weather = computed(
  () =>
    WEATHER.find((w) => w.temp_C === props.vehicle.weather.temp_C && w.baro_kPa === props.vehicle.weather.baro_kPa)
      ?.name ?? '',
)
/** Air in the person's units. */
const air = (value: number, quantity: string, digits: number) => inOne(told(value, quantity, digits))
function surround(change: Partial<Vehicle['weather']>) {
  act('surround', { weather: { ...props.vehicle.weather, ...change } })
}
const off = computed(() => props.vehicle.key === 'off')
</script>

<template>
  <section>
    <h2>{{ t('live.hands') }}</h2>
    <ChoiceRow
      :label="t('live.key')"
      :value="vehicle.key"
      :choices="['off', 'on', 'start'].map((id) => ({ id, label: t(`live.keyTo.${id}`) }))"
      @choose="(to) => act('turn_key', { to })"
    />
    <SliderRow
      :label="t(isGoverned ? 'live.lever' : 'live.pedal')"
      :value="pedal"
      :low="0"
      :high="100"
      unit="%"
      @slide="drag"
    />
    <ChoiceRow
      :label="t('live.hold')"
      :value="held"
      :choices="[
        { id: 'free', label: t('live.free') },
        ...HELD.map((rpm) => ({ id: String(rpm), label: String(rpm) })),
      ]"
      @choose="(id) => (id === 'free' ? act('move_pedal', { to: 0 }) : act('hold_speed', { rpm: Number(id) }))"
    />
    <div class="buttons">
      <button type="button" @click="act('snap')">{{ t('live.snap') }}</button>
    </div>
    <ChoiceRow
      :label="t('live.rollers')"
      :value="onRollers ? 'rollers' : 'neutral'"
      :choices="['neutral', 'rollers'].map((id) => ({ id, label: t(`live.mode.${id}`) }))"
      @choose="bringToRollers"
    />
    <template v-if="onRollers">
      <SliderRow
        :label="t('live.speed')"
        :value="rollerSpeed"
        :low="800"
        :high="5000"
        :step="100"
        unit="1/min"
        settled
        @slide="(rpm) => roll(rpm)"
      />
      <SliderRow
        :label="t('live.load')"
        :value="vehicle.foot === 'load' ? load : 0"
        :low="0"
        :high="100"
        :step="5"
        unit="%"
        settled
        @slide="(share) => ((load = share), act('hold_load', { share: share / 100 }))"
      />
      <div class="buttons">
        <button type="button" @click="act('move_pedal', { to: 1, seconds: 0.3 })">{{ t('live.floor') }}</button>
        <button type="button" @click="act('move_pedal', { to: 0, seconds: 0.1 })">{{ t('live.lift') }}</button>
      </div>
    </template>
    <div class="buttons" role="group" :aria-label="t('live.consumers')">
      <button
        v-for="name in ['lights', 'air_conditioning'] as const"
        :key="name"
        type="button"
        :aria-pressed="vehicle.consumers[name]"
        @click="act('switch_consumers', { ...vehicle.consumers, [name]: !vehicle.consumers[name] })"
      >
        {{ t(`live.consumer.${name}`) }}
      </button>
      <button type="button" :aria-pressed="vehicle.charger" @click="act('connect_charger', { on: !vehicle.charger })">
        {{ t('live.charger') }}
      </button>
    </div>
    <details>
      <summary>{{ t('live.around') }}</summary>
      <ChoiceRow
        :label="t('live.weather')"
        :value="weather"
        stacked
        :choices="WEATHER.map((w) => ({ id: w.name, label: t(`live.weathers.${w.name}`) }))"
        @choose="
          (id) => {
            const w = WEATHER.find((entry) => entry.name === id)
            if (w) surround({ temp_C: w.temp_C, baro_kPa: w.baro_kPa })
          }
        "
      />
      <SliderRow
        :label="t('live.air')"
        :value="vehicle.weather.temp_C"
        :low="-30"
        :high="45"
        unit="°C"
        :words="(celsius) => air(celsius, 'temperature', 0)"
        settled
        @slide="(celsius) => surround({ temp_C: celsius })"
      />
      <SliderRow
        :label="t('live.pressure')"
        :value="vehicle.weather.baro_kPa"
        :low="70"
        :high="105"
        :step="0.5"
        unit="kPa"
        :words="(kpa) => air(kpa, 'pressure_abs', 1)"
        settled
        @slide="(kpa) => surround({ baro_kPa: kpa })"
      />
    </details>
    <details>
      <summary>{{ t('live.days') }}</summary>
      <ChoiceRow
        :label="t('live.lapse')"
        :value="String(vehicle.time_lapse)"
        :choices="[1, 10, 50].map((n) => ({ id: String(n), label: `×${n}` }))"
        @choose="(n) => act('lapse_time', { factor: Number(n) })"
      />
      <p class="small soft">{{ t('live.lapseMeans') }}</p>
      <div class="buttons">
        <button type="button" :disabled="!!working" @click="act('settle_memory')">{{ t('live.settle') }}</button>
        <button type="button" @click="act('reset_learned')">{{ t('live.resetLearned') }}</button>
        <button type="button" :disabled="!off || !!working" @click="act('stand', { hours: 1 })">
          {{ t('live.hour') }}
        </button>
        <button type="button" :disabled="!off || !!working" @click="act('stand', { hours: 12 })">
          {{ t('live.night') }}
        </button>
        <button type="button" :disabled="!off" @click="act('disconnect_battery')">{{ t('live.battery') }}</button>
      </div>
      <p v-if="!off" class="small soft">{{ t('live.needsKeyOff') }}</p>
    </details>
  </section>
</template>

<style scoped>
details {
  border-top: 1px solid var(--rule);
  padding: 5px 0;
}
summary {
  cursor: pointer;
  font-size: 13px;
}
details p {
  margin: 2px 0;
}
</style>
