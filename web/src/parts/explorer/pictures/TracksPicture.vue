<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Two tracks with one hand on both, and whether their rule is kept. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const x = () => 50 + 2.3 * Number(props.hands.travel)
</script>

<template>
  <svg viewBox="0 0 380 250">
    <g v-for="(track, k) in ['one', 'two']" :key="track">
      <text x="50" :y="42 + 90 * k">{{ t(k ? 'explorer.pic.second' : 'explorer.pic.first') }}</text>
      <path :d="`M50 ${66 + 90 * k}H280`" stroke="var(--position)" stroke-width="9" />
      <text x="26" :y="70 + 90 * k">{{ k && hands.pair === 'throttle' ? '+' : '−' }}</text>
      <text x="288" :y="70 + 90 * k">{{ k && hands.pair === 'throttle' ? '−' : '+' }}</text>
      <text x="306" :y="70 + 90 * k" class="b">{{ (numbers[track] ?? 0).toFixed(2) }} V</text>
    </g>
    <path :d="`M${x()} 48V170`" stroke="var(--accent)" stroke-width="3" />
    <circle :cx="x() + 2.3 * Number(hands.worn)" cy="66" r="5" fill="var(--accent)" />
    <circle :cx="x()" cy="156" r="5" fill="var(--accent)" />
    <text v-if="Number(hands.ground) > 0" x="16" y="192">
      {{ t('explorer.pic.ground') }} + {{ ((numbers.lift ?? 0) * 1000).toFixed(0) }} mV
    </text>
    <g transform="translate(50 214)">
      <path v-if="numbers.agree" d="M0 6l6 7l12 -16" class="flow" />
      <path v-else d="M0 -3l16 16M16 -3l-16 16" class="flow" />
      <text x="28" y="10" class="b">{{ t(numbers.agree ? 'explorer.pic.sum' : 'explorer.pic.broken') }}</text>
    </g>
  </svg>
</template>
