<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** The divider as the circuit is drawn: reference, pull-up, pin, plug, sensor, ground. */
defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const ohms = (value: number) => (value >= 1000 ? `${(value / 1000).toPrecision(3)} kΩ` : `${Math.round(value)} Ω`)
</script>

<template>
  <svg viewBox="0 0 380 250">
    <rect x="20" y="20" width="150" height="210" fill="none" stroke="var(--rule)" />
    <text x="26" y="36">{{ t('explorer.pic.unit') }}</text>
    <text x="60" y="60" class="b">5.00 V</text>
    <path d="M90 66v20M90 126v14H250" class="ink" />
    <rect x="82" y="86" width="16" height="40" class="wall" />
    <text x="106" y="110">{{ t('explorer.pic.pullUp') }} {{ ohms(Number(hands.pull_up)) }}</text>
    <circle cx="90" cy="140" r="4" fill="var(--accent)" />
    <text x="40" y="158" class="b">{{ (numbers.volts ?? 0).toFixed(2) }} V</text>
    <template v-if="hands.plug === 'on'"><path d="M250 140h50v20M300 200v20H90" class="ink" /></template>
    <template v-else-if="hands.plug === 'off'">
      <path d="M300 140v20M300 200v20M250 220H90" class="ink" />
      <path d="M250 132v16M262 132v16" stroke="var(--accent)" stroke-width="3" />
    </template>
    <template v-else>
      <path d="M250 140V220H90" class="ink" stroke="var(--accent)" />
      <path d="M300 140v20M300 200v20" class="ink" />
    </template>
    <rect
      v-if="Number(hands.series) > 0"
      x="196"
      y="133"
      width="38"
      height="14"
      fill="var(--accent-pale)"
      stroke="var(--accent)"
    />
    <text v-if="Number(hands.series) > 0" x="190" y="128">+ {{ ohms(Number(hands.series)) }}</text>
    <rect x="292" y="160" width="16" height="40" class="wall" />
    <path d="M284 204L316 156" class="ink" />
    <text x="322" y="176" class="b">{{ ohms(numbers.element ?? 0) }}</text>
    <text x="322" y="194">{{ Math.round(Number(hands.celsius)) }} °C</text>
    <text x="234" y="164">{{ t('explorer.pic.plug') }}</text>
    <text x="100" y="214">{{ t('explorer.pic.ground') }}</text>
  </svg>
</template>
