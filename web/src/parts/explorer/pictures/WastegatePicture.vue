<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Charge pressure in the actuator, the solenoid that bleeds it off, the rod, and the gate beside the turbine. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const push = computed(() => 0.26 * (props.numbers.opening ?? 0))
const turn = computed(() => -0.55 * (props.numbers.opening ?? 0))
const off = computed(() => props.hands.hose === 'off')
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M20 40h90v70H20Z" class="wall" />
    <rect x="24" y="44" width="82" height="62" fill="var(--field)" />
    <path :d="`M${50 + push} 44v62`" stroke="var(--pressure)" stroke-width="4" />
    <path :d="`M${54 + push} 75l5 -8l8 16l8 -16l8 16l5 -8`" class="ink" />
    <path :d="`M${50 + push} 75H${190 + push}`" stroke="var(--text)" stroke-width="5" />
    <text x="22" y="34">{{ t('explorer.pic.canister') }}</text>
    <text x="52" y="126" class="b">{{ Math.round(numbers.actuator ?? 0) }} kPa</text>
    <!-- hose with its solenoid -->
    <path v-if="!off" d="M36 110V200H96" stroke="var(--text)" stroke-width="4" fill="none" />
    <path
      v-else
      d="M36 110v20M36 170V200H96"
      stroke="var(--accent)"
      stroke-width="4"
      fill="none"
      stroke-dasharray="5 4"
    />
    <text x="100" y="204">{{ t('explorer.pic.charge') }} {{ Math.round(Number(hands.boost)) }} kPa</text>
    <path v-if="Number(hands.duty) > 3" :d="`M36 168H${8 + 14}m5 -4l-5 4l5 4`" class="flow" />
    <text x="46" y="172">{{ t('explorer.pic.solenoid') }} {{ Math.round(Number(hands.duty)) }} %</text>
    <!-- turbine and gate -->
    <circle cx="310" cy="150" r="40" class="ink" />
    <g class="ink">
      <path v-for="k in 8" :key="k" :transform="`rotate(${45 * k} 310 150)`" d="M310 150q10 -16 0 -34" />
    </g>
    <text x="288" y="206">{{ t('explorer.pic.turbine') }}</text>
    <path d="M200 110h150M200 60h150" class="ink" />
    <g :transform="`rotate(${turn} 230 110)`"><path d="M230 106h50v8h-50z" fill="var(--text)" /></g>
    <text x="200" y="128">{{ t('explorer.pic.gate') }}</text>
    <path v-if="(numbers.opening ?? 0) > 3" d="M262 130V80h70m-7 -4l7 4l-7 4" class="flow" />
    <text x="300" y="54" class="b">{{ Math.round(numbers.opening ?? 0) }} %</text>
  </svg>
</template>
