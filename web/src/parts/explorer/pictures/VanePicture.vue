<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** The flap in its housing, held open by the stream against a spring; its wiper on the track. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const turn = computed(() => 88 - 0.84 * (props.numbers.opening ?? 0))
const streams = computed(() => Math.min(5, Math.ceil(Number(props.hands.flow) / 24)))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M10 40H370M10 150H170a70 50 0 0 0 140 0H370" class="ink" />
    <g class="flow">
      <path v-for="k in streams" :key="k" :d="`M18 ${52 + 16 * k}h70m-7 -4l7 4l-7 4`" />
    </g>
    <g :transform="`rotate(${turn} 180 48)`">
      <path d="M180 44h104v8H180Z" class="wall" />
      <circle :cx="276" cy="48" r="4" fill="var(--accent)" />
    </g>
    <circle cx="180" cy="48" r="7" class="wall" />
    <path d="M180 48m-12 0a12 12 0 1 1 12 12a18 18 0 1 1 -16 -24" class="ink" />
    <text x="150" y="30">{{ t('explorer.pic.spring') }}</text>
    <text x="150" y="176">{{ t('explorer.pic.flap') }}</text>
    <path d="M200 214h104" stroke="var(--text)" stroke-width="6" />
    <path :d="`M${200 + 1.04 * (numbers.opening ?? 0)} 204v10`" stroke="var(--accent)" stroke-width="3" />
    <text x="200" y="236">{{ t('explorer.pic.track') }}</text>
    <text x="312" y="218" class="b">{{ (numbers.volts ?? 0).toFixed(2) }} V</text>
    <text x="16" y="176">{{ Math.round(Number(hands.celsius)) }} °C</text>
  </svg>
</template>
