<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Diaphragm, spring and bleed; the stem lifts the valve off its seat. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const up = computed(() => 0.34 * (props.numbers.lift ?? 0))
const hasBleed = computed(() => props.hands.type !== 'ported')
const gap = computed(() => 16 * (props.numbers.bleed ?? 0))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M120 30H260V96H120Z" class="wall" />
    <rect x="124" y="34" width="132" height="58" fill="var(--field)" />
    <path :d="`M124 92Q190 ${92 - 1.7 * up} 256 92`" stroke="var(--pressure)" stroke-width="4" fill="none" />
    <path
      :d="`M190 36l8 ${(50 - up) / 6}l-16 ${(50 - up) / 6}l16 ${(50 - up) / 6}l-16 ${(50 - up) / 6}l8 ${(50 - up) / 6}`"
      class="ink"
    />
    <text x="262" y="60">{{ t('explorer.pic.diaphragm') }}</text>
    <path d="M120 50H40" stroke="var(--text)" stroke-width="6" />
    <text x="14" y="40">{{ t('explorer.pic.supply') }}</text>
    <text x="14" y="70" class="b">{{ Number(hands.vacuum).toFixed(0) }} kPa</text>
    <g v-if="hasBleed">
      <path :d="`M284 92h${20}M284 ${92 + gap}h20`" class="ink" />
      <path v-if="gap > 1" :d="`M304 ${92 + gap / 2}H262m6 -4l-6 4l6 4`" class="flow" />
      <text x="308" y="98">{{ t('explorer.pic.bleed') }}</text>
    </g>
    <path :d="`M186 ${92 - up}v${86}h8v-86`" fill="var(--surface-strong)" stroke="var(--text)" />
    <path :d="`M164 ${184 - up}l26 -16l26 16z`" fill="var(--text)" />
    <path d="M40 200H160V186M220 186V200H340M40 240H340" class="ink" />
    <text x="44" y="226">{{ t('explorer.pic.fromExhaust') }} {{ Number(hands.exhaust).toFixed(1) }} kPa</text>
    <path v-if="(numbers.lift ?? 0) > 5" d="M190 226V176h70m-7 -4l7 4l-7 4" class="flow" />
    <text x="270" y="180">{{ t('explorer.pic.toIntake') }}</text>
    <text x="134" y="26" class="b">{{ (numbers.chamber ?? 0).toFixed(0) }} kPa</text>
  </svg>
</template>
