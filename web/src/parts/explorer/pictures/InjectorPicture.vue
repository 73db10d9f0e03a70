<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Coil, needle and spray; below, the pulse in the time that there is. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const wide = (ms: number) => 320 * Math.min(1, ms / (props.numbers.available || 1))
const open = computed(() => (props.numbers.opened ? 10 : 0))
const spray = computed(() => Math.min(7, Math.ceil((props.numbers.flow ?? 0) * 1.2)) * (props.numbers.opened ?? 0))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M150 10h60v50h20v50h-20l-16 40h-28l-16 -40h-20v-50h20z" class="wall" />
    <g stroke="var(--accent)" stroke-width="2">
      <path v-for="k in 5" :key="k" :d="`M136 ${62 + 8 * k}h16M208 ${62 + 8 * k}h16`" />
    </g>
    <path :d="`M176 ${50 - open}v90h8v-90z`" fill="var(--text)" />
    <path :d="`M172 ${140 - open}h16l-8 10z`" fill="var(--text)" />
    <text x="236" y="90">{{ t('explorer.pic.coil') }} {{ Number(hands.volts).toFixed(1) }} V</text>
    <text x="216" y="26">{{ t('explorer.pic.fuel') }} {{ Math.round(Number(hands.kpa)) }} kPa</text>
    <text x="88" y="112">{{ t('explorer.pic.needle') }}</text>
    <g class="flow">
      <path v-for="k in spray" :key="k" :d="`M180 152l${(k - (spray + 1) / 2) * 9} 34`" stroke-dasharray="3 3" />
    </g>
    <text x="226" y="170" class="b">{{ (numbers.fuel ?? 0).toFixed(1) }} mg</text>
    <rect x="30" y="206" width="320" height="14" fill="var(--field)" stroke="var(--text)" />
    <rect x="30" y="206" :width="wide(Number(hands.pulse))" height="14" fill="var(--fuelling)" />
    <rect
      x="30"
      y="206"
      :width="wide(Math.min(numbers.dead ?? 0, Number(hands.pulse)))"
      height="14"
      fill="var(--text-faint)"
    />
    <text x="30" y="200">{{ t('explorer.pic.dead') }}, {{ t('explorer.pic.pulse') }}</text>
    <text x="350" y="200" text-anchor="end">
      {{ t('explorer.pic.window') }} {{ (numbers.available ?? 0).toFixed(1) }} ms
    </text>
    <text x="350" y="238" text-anchor="end" class="b">{{ Math.round(numbers.duty ?? 0) }} %</text>
  </svg>
</template>
