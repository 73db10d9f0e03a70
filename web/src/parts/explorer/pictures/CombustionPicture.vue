<script setup lang="ts">
import { computed } from 'vue'
import type { Hands } from '@/parts/explorer/useDrawing'

/** What leaves the pipe, as columns: each gas on a scale of its own. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const GASES = [
  { id: 'o2', name: 'O₂', top: 8, unit: '%', digits: 1 },
  { id: 'co', name: 'CO', top: 8, unit: '%', digits: 1 },
  { id: 'co2', name: 'CO₂', top: 16, unit: '%', digits: 1 },
  { id: 'hc', name: 'HC', top: 2000, unit: 'ppm', digits: 0 },
  { id: 'nox', name: 'NOx', top: 60, unit: '', digits: 0 },
]
const columns = computed(() =>
  GASES.map((gas, k) => {
    const value = props.numbers[gas.id] ?? 0
    return {
      ...gas,
      x: 34 + 68 * k,
      high: 160 * Math.min(1, value / gas.top),
      over: value > gas.top,
      text: value.toFixed(gas.digits),
    }
  }),
)
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M20 206H364" class="ink" />
    <g v-for="gas in columns" :key="gas.id">
      <rect
        :x="gas.x"
        :y="206 - gas.high"
        width="38"
        :height="gas.high"
        :fill="gas.id === 'o2' ? 'var(--oxygen)' : 'var(--text-faint)'"
      />
      <path v-if="gas.over" :d="`M${gas.x + 12} 42l7 -8l7 8`" class="flow" />
      <text :x="gas.x + 19" :y="198 - gas.high" text-anchor="middle" class="b">{{ gas.text }}</text>
      <text :x="gas.x + 19" y="222" text-anchor="middle">{{ gas.name }}</text>
      <text :x="gas.x + 19" y="238" text-anchor="middle">{{ gas.unit }}</text>
    </g>
    <text x="20" y="18" class="b">λ {{ Number(hands.lambda).toFixed(2) }}</text>
  </svg>
</template>
