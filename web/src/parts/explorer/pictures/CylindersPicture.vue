<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Four cylinders, their pipes, and the one sensor that sees what is mixed. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const lambda = (k: number) => props.numbers[`lambda_${k}`] ?? 1
const text = (k: number) => (lambda(k) > 9 ? t('explorer.air') : lambda(k).toFixed(2))
const ill = (k: number) => k === 2 && props.hands.fault !== 'none'
</script>

<template>
  <svg viewBox="0 0 380 250">
    <g v-for="k in 4" :key="k">
      <rect
        :x="24 + 84 * (k - 1)"
        y="34"
        width="58"
        height="62"
        :fill="ill(k) ? 'var(--accent-pale)' : 'var(--field)'"
        stroke="var(--text)"
      />
      <text :x="53 + 84 * (k - 1)" y="26" text-anchor="middle">{{ t('explorer.pic.cylinder', { n: k }) }}</text>
      <text :x="53 + 84 * (k - 1)" y="72" text-anchor="middle" class="b">λ {{ text(k) }}</text>
      <path v-if="ill(k)" :d="`M${30 + 84 * (k - 1)} 40l12 12m0 -12l-12 12`" class="flow" />
      <path :d="`M${53 + 84 * (k - 1)} 96C${53 + 84 * (k - 1)} 140 190 130 190 168`" class="ink" />
    </g>
    <path d="M190 168V236" stroke="var(--text)" stroke-width="6" />
    <path d="M196 190h26v20h-26" class="wall" />
    <text x="230" y="194">{{ t('explorer.pic.seen') }}</text>
    <text x="230" y="210" class="b">λ {{ (numbers.sensed ?? 1).toFixed(2) }}</text>
    <text x="24" y="210" class="b">
      {{ (numbers.trim ?? 0) > 0 ? '+' : '' }}{{ (numbers.trim ?? 0).toFixed(0).replace('-', '−') }} %
    </text>
  </svg>
</template>
