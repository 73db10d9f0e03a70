<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** The brick between its two sensors; how full its store of oxygen is. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const wave = (height: number, x: number) =>
  `M${x} 125` + Array.from({ length: 6 }, (_, k) => `q6 ${(k % 2 ? 1 : -1) * height * 2} 12 0`).join('')
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M0 96H110L134 66H246L270 96H380M0 154H110L134 184H246L270 154H380" class="ink" />
    <g stroke="var(--text-faint)">
      <path
        v-for="k in 11"
        :key="k"
        :d="`M138 ${66 + k * 10 - 1}H242`"
        :stroke-width="Number(props.hands.left) > 30 ? 3 : 1"
      />
    </g>
    <rect x="138" y="200" width="104" height="14" fill="var(--field)" stroke="var(--text)" />
    <rect x="138" y="200" :width="104 * ((numbers.fill ?? 0) / 100)" height="14" fill="var(--oxygen)" />
    <text x="138" y="230">{{ t('explorer.pic.store') }}</text>
    <text x="246" y="212" class="b">{{ Math.round(numbers.fill ?? 0) }} %</text>
    <path :d="wave(14 * Math.min(1, numbers.front_swing ?? 0), 22)" class="flow" />
    <path :d="wave(14 * Math.min(1, numbers.rear_swing ?? 0), 288)" class="flow" />
    <path d="M64 96V60h16v36M300 96V60h16v36" class="wall" />
    <text x="58" y="52">{{ t('explorer.pic.front') }}</text>
    <text x="296" y="52">{{ t('explorer.pic.rear') }}</text>
    <text x="150" y="56">{{ Math.round(Number(props.hands.celsius)) }} °C</text>
  </svg>
</template>
