<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** The diaphragm over its sealed vacuum, bent by the pressure; the bridge that feels it. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const sag = computed(() => 46 * (props.numbers.bend ?? 0))
const arrows = computed(() => Math.max(1, Math.round(6 * (props.numbers.bend ?? 0))))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M30 60V170H230V60H200V110H60V60Z" class="wall" />
    <rect x="60" y="110" width="140" height="46" fill="var(--field)" stroke="var(--text)" />
    <text x="84" y="150">{{ t('explorer.pic.vacuum') }}</text>
    <path :d="`M60 104Q130 ${104 + sag} 200 104`" stroke="var(--pressure)" stroke-width="5" fill="none" />
    <text x="84" y="194">{{ t('explorer.pic.diaphragm') }}</text>
    <path d="M110 182V116" class="lead" />
    <g class="flow">
      <path v-for="k in arrows" :key="k" :d="`M${60 + (140 * k) / (arrows + 1)} 44v34m-4 -7l4 7l4 -7`" />
    </g>
    <text x="78" y="36" class="b">{{ Math.round(Number(hands.kpa)) }} kPa</text>
    <!-- bridge -->
    <g transform="translate(300 120)">
      <path d="M0 -48L48 0L0 48L-48 0Z" class="ink" />
      <g fill="var(--field)" stroke="var(--pressure)" stroke-width="1.6">
        <rect x="-9" y="-5" width="18" height="10" transform="translate(24 -24) rotate(45)" />
        <rect x="-9" y="-5" width="18" height="10" transform="translate(-24 -24) rotate(-45)" />
        <rect x="-9" y="-5" width="18" height="10" transform="translate(24 24) rotate(-45)" />
        <rect x="-9" y="-5" width="18" height="10" transform="translate(-24 24) rotate(45)" />
      </g>
      <text x="-28" y="4" class="b">{{ Math.round(numbers.bridge ?? 0) }} mV</text>
      <text x="-16" y="-54">{{ Number(hands.supply).toFixed(2) }} V</text>
    </g>
    <text x="284" y="196">{{ t('explorer.pic.bridge') }}</text>
    <path d="M300 204v12" class="lead" />
    <text x="284" y="232" class="b">{{ (numbers.volts ?? 0).toFixed(2) }} V</text>
  </svg>
</template>
