<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** The orifice in the pipe, a hose on either side, and the sensor between them. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const streams = computed(() => Math.ceil(Number(props.hands.flow) * 1.4))
const swapped = computed(() => props.hands.hoses === 'swapped')
const off = computed(() => props.hands.hoses === 'first_off')
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M10 150H180V172M180 200V222H10M210 172V150H370M210 200V222H370M180 172h30M180 200h30" class="ink" />
    <text x="164" y="242">{{ t('explorer.pic.orifice') }}</text>
    <g class="flow">
      <path v-for="k in streams" :key="k" :d="`M30 ${150 + (72 * k) / (streams + 1)}h80m-7 -4l7 4l-7 4`" />
    </g>
    <text x="14" y="144">{{ t('explorer.pic.fromExhaust') }}</text>
    <text x="270" y="144">{{ t('explorer.pic.toIntake') }}</text>
    <rect x="150" y="30" width="90" height="44" class="wall" />
    <path d="M195 30V74" stroke="var(--pressure)" stroke-width="3" />
    <text x="246" y="56">{{ t('explorer.pic.sensor') }}</text>
    <g fill="none" stroke="var(--text)" stroke-width="4">
      <path v-if="!off" :d="swapped ? 'M140 150C140 110 225 120 225 74' : 'M140 150C140 110 168 110 168 74'" />
      <path v-else d="M140 150v-14m0 -16v-6M168 74v16" stroke="var(--accent)" />
      <path :d="swapped ? 'M250 150C250 110 168 120 168 74' : 'M250 150C250 110 225 110 225 74'" />
    </g>
    <text x="150" y="22" class="b">{{ (numbers.volts ?? 0).toFixed(2) }} V</text>
    <text x="280" y="100" class="b">Δp {{ (numbers.drop ?? 0).toFixed(2) }} kPa</text>
  </svg>
</template>
