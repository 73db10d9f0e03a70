<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'

/** A narrowband sensor to take in hand: mixture and temperature move, cell, pin and curve answer from the computed grid. */
const props = defineProps<{ rig: string }>()
const { t } = useI18n()
const grid = useQuery({
  queryKey: ['explore-narrowband', () => props.rig],
  queryFn: () => unwrap(client.GET('/api/explore/narrowband', { params: { query: { rig: props.rig } } })),
  staleTime: Infinity,
})
const mix = ref(42)
const warm = ref(8)

const data = computed(() => grid.data.value)
const lambda = computed(() => data.value?.lambdas[mix.value] ?? 1)
const celsius = computed(() => data.value?.temperatures[warm.value] ?? 0)
const cell = computed(() => data.value?.cell_volts[warm.value]?.[mix.value] ?? 0)
const pin = computed(() => data.value?.pin_volts[warm.value]?.[mix.value] ?? 0)
const oxygen = computed(() => data.value?.oxygen_percent[warm.value]?.[mix.value] ?? 0)
const resistance = computed(() => data.value?.resistance[warm.value] ?? 0)

const W = 380
const H = 210
const PAD = { left: 40, right: 12, top: 12, bottom: 30 }
const x = (lam: number) => PAD.left + ((lam - 0.8) / 0.4) * (W - PAD.left - PAD.right)
const y = (volts: number) => H - PAD.bottom - (volts / 1.1) * (H - PAD.top - PAD.bottom)
const curve = computed(() =>
  (data.value?.pin_volts[warm.value] ?? [])
    .map((v, k) => `${k ? 'L' : 'M'}${x(data.value?.lambdas[k] ?? 1).toFixed(1)} ${y(v).toFixed(1)}`)
    .join(''),
)

function amount(percent: number): string {
  if (percent >= 0.01) return `${percent.toFixed(2)} %`
  const power = Math.floor(Math.log10(percent))
  return `${(percent / 10 ** power).toFixed(1)} · 10^${power} %`
}
const power = computed(() => /^(.*)10\^(-?\d+)( %)$/.exec(amount(oxygen.value)))
const ohms = computed(() =>
  resistance.value >= 1e6
    ? `${(resistance.value / 1e6).toPrecision(2)} MΩ`
    : resistance.value >= 1e3
      ? `${(resistance.value / 1e3).toPrecision(2)} kΩ`
      : `${resistance.value.toFixed(0)} Ω`,
)
const isCold = computed(() => Math.abs(pin.value - cell.value) > 0.08)
const says = computed(() => {
  if (isCold.value) return t('narrowband.cold', { bias: data.value?.bias.toFixed(2) ?? '' })
  if (Math.abs(lambda.value - 1) < 0.009) return t('narrowband.step')
  return `${lambda.value < 1 ? t('narrowband.richText') : t('narrowband.leanText')} ${Math.abs(lambda.value - 1) > 0.04 ? t('narrowband.flat') : ''}`
})
/** Oxygen dots in the exhaust, as many as the order of magnitude allows to show. */
const dots = computed(() => Math.max(0, Math.min(14, Math.round(oxygen.value * 3))))
const arrows = computed(() => Math.max(0, Math.min(5, Math.round(cell.value * 5.5))))
</script>

<template>
  <div v-if="data" class="explorer">
    <svg class="cut" viewBox="0 0 380 250" role="img" :aria-label="t('narrowband.drawing')">
      <defs>
        <pattern id="metal" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="5" stroke="var(--text-soft)" stroke-width="0.8" />
        </pattern>
      </defs>
      <rect x="0" y="0" width="380" height="250" fill="var(--surface-sunk)" />
      <!-- pipe wall -->
      <path d="M0 96h96v22H0ZM284 96h96v22h-96Z" fill="url(#metal)" stroke="var(--text)" />
      <!-- housing -->
      <path d="M96 20h188v98h-30V52H126v66H96Z" fill="url(#metal)" stroke="var(--text)" />
      <!-- ceramic thimble -->
      <path
        d="M132 34h22v128c0 26 16 40 36 40s36-14 36-40V34h22v130c0 40-26 60-58 60s-58-20-58-60Z"
        :fill="isCold ? 'var(--ceramic-cold)' : 'var(--ceramic-hot)'"
        stroke="var(--text)"
      />
      <path d="M132 120v44c0 40 26 60 58 60s58-20 58-60v-44" fill="none" stroke="var(--oxygen)" stroke-width="3.5" />
      <path d="M154 120v42c0 26 16 40 36 40s36-14 36-40v-42" fill="none" stroke="var(--oxygen)" stroke-width="3.5" />
      <!-- heater -->
      <path d="M186 34v118h8V34" fill="var(--field)" stroke="var(--temperature)" stroke-width="1.6" />
      <text x="196" y="30" class="t">{{ t('narrowband.heater') }}</text>
      <!-- air dots inside -->
      <g fill="var(--oxygen)">
        <circle
          v-for="k in 14"
          :key="k"
          :cx="[164, 172, 206, 214, 166, 176, 204, 212, 168, 180, 200, 210, 178, 202][k - 1]"
          :cy="[70, 92, 64, 88, 112, 132, 116, 136, 152, 172, 176, 156, 188, 190][k - 1]"
          r="2.2"
        />
      </g>
      <!-- oxygen left in the exhaust -->
      <g fill="none" stroke="var(--oxygen)" stroke-width="1.4">
        <circle
          v-for="k in dots"
          :key="k"
          :cx="[60, 320, 96, 288, 40, 346, 80, 306, 110, 272, 24, 362, 70, 312][k - 1]"
          :cy="[150, 160, 190, 196, 206, 214, 230, 232, 150, 152, 172, 178, 174, 140][k - 1]"
          r="2.6"
        />
      </g>
      <!-- ions through the ceramic -->
      <g v-if="!isCold" stroke="var(--accent)" stroke-width="1.6" fill="none">
        <path
          v-for="k in arrows"
          :key="k"
          :d="`M${k % 2 ? 158 : 222} ${128 + k * 11}h${k % 2 ? -20 : 20}m${k % 2 ? 5 : -5} -3l${k % 2 ? -5 : 5} 3l${k % 2 ? 5 : -5} 3`"
        />
      </g>
      <text x="10" y="88" class="t">{{ t('narrowband.exhaust') }}</text>
      <text x="10" y="242" class="t">{{ t('narrowband.oxygen') }}</text>
      <text x="262" y="242" class="t b">
        <template v-if="power">
          {{ power[1] }}10
          <tspan dy="-4" font-size="8">{{ power[2] }}</tspan>
          <tspan dy="4">{{ power[3] }}</tspan>
        </template>
        <template v-else>{{ amount(oxygen) }}</template>
      </text>
      <text x="262" y="14" class="t">{{ t('narrowband.air') }}</text>
      <path d="M258 12 210 60" stroke="var(--text-soft)" stroke-width="0.8" />
    </svg>
    <div class="side">
      <svg class="curve" :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="t('narrowband.curve', { temp: celsius })">
        <g v-for="v in [0, 0.2, 0.4, 0.6, 0.8, 1]" :key="v">
          <line :x1="PAD.left" :x2="W - PAD.right" :y1="y(v)" :y2="y(v)" stroke="var(--surface-strong)" />
          <text :x="PAD.left - 6" :y="y(v) + 4" text-anchor="end" class="t">{{ v.toFixed(1) }}</text>
        </g>
        <g v-for="l in [0.8, 0.9, 1, 1.1, 1.2]" :key="l">
          <line
            :x1="x(l)"
            :x2="x(l)"
            :y1="PAD.top"
            :y2="H - PAD.bottom"
            :stroke="l === 1 ? 'var(--text-soft)' : 'var(--surface-strong)'"
          />
          <text :x="x(l)" :y="H - PAD.bottom + 14" text-anchor="middle" class="t">{{ l.toFixed(1) }}</text>
        </g>
        <text :x="PAD.left + 6" :y="H - 4" class="t">{{ t('narrowband.rich') }}</text>
        <text :x="W - PAD.right" :y="H - 4" class="t" text-anchor="end">{{ t('narrowband.lean') }}</text>
        <text :x="(W + PAD.left) / 2" :y="H - 4" class="t" text-anchor="middle">λ</text>
        <text x="4" y="11" class="t">V</text>
        <path :d="curve" fill="none" stroke="var(--oxygen)" stroke-width="2" />
        <line :x1="x(lambda)" :x2="x(lambda)" :y1="y(pin)" :y2="H - PAD.bottom" stroke="var(--accent)" />
        <circle :cx="x(lambda)" :cy="y(pin)" r="5" fill="var(--accent)" />
      </svg>
      <table class="plain figures">
        <tbody>
          <tr>
            <td>{{ t('narrowband.cell') }}</td>
            <td class="number">
              <b>{{ cell.toFixed(2) }} V</b>
            </td>
          </tr>
          <tr>
            <td>{{ t('narrowband.resistance') }}</td>
            <td class="number">{{ ohms }}</td>
          </tr>
          <tr>
            <td>{{ t('narrowband.pin') }}</td>
            <td class="number">
              <b data-testid="pin-volts">{{ pin.toFixed(2) }} V</b>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="hands">
      <label class="label">
        <span
          >{{ t('narrowband.mixture') }} <b>{{ lambda.toFixed(3) }}</b></span
        >
        <ElSlider
          v-model="mix"
          :min="0"
          :max="data.lambdas.length - 1"
          :show-tooltip="false"
          :aria-label="t('narrowband.mixture')"
        />
      </label>
      <label class="label">
        <span
          >{{ t('narrowband.temperature') }} <b>{{ celsius }} °C</b></span
        >
        <ElSlider
          v-model="warm"
          :min="0"
          :max="data.temperatures.length - 1"
          :show-tooltip="false"
          :aria-label="t('narrowband.temperature')"
        />
      </label>
      <p class="says" aria-live="polite">{{ says }}</p>
    </div>
  </div>
  <p v-else-if="grid.error.value" role="alert">{{ sentence(grid.error.value) }}</p>
</template>

<style scoped>
.explorer {
  display: grid;
  grid-template-columns: minmax(0, 400px) minmax(0, 400px);
  align-content: start;
  gap: var(--space-3) var(--space-4);
}
.cut {
  width: 100%;
  border: 1px solid var(--rule);
}
.curve {
  width: 100%;
}
.t {
  font-size: 11px;
  fill: var(--text-soft);
}
.b {
  fill: var(--text);
  font-weight: 600;
}
.figures td {
  padding: 2px 8px;
}
.hands {
  grid-column: 1 / -1;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 var(--space-4);
  max-width: 824px;
}
.hands label {
  padding-right: 10px;
}
.hands b {
  color: var(--text);
}
.says {
  grid-column: 1 / -1;
  min-height: 3em;
  margin: 0;
}
@media (max-width: 860px) {
  .explorer {
    grid-template-columns: 1fr;
  }
}
</style>
