<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** One height of pressure beside three rulers: from nothing, down from the barometer, up from it. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const y = (kpa: number) => 230 - 0.82 * kpa
const now = computed(() => y(props.numbers.absolute ?? 0))
const baro = computed(() => y(props.numbers.barometer ?? 0))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M20 230H360" class="ink" />
    <text x="22" y="244">{{ t('explorer.pic.sealedZero') }}</text>
    <path :d="`M20 ${baro}H360`" stroke="var(--text)" stroke-dasharray="6 4" />
    <text x="22" :y="baro - 5">{{ t('explorer.pic.barometer') }} {{ (numbers.barometer ?? 0).toFixed(1) }} kPa</text>
    <rect x="150" :y="now" width="44" :height="230 - now" fill="var(--pressure)" fill-opacity="0.75" />
    <text x="150" :y="Math.max(now - 5, 12)" class="b">{{ (numbers.absolute ?? 0).toFixed(0) }}</text>
    <text x="200" :y="Math.max((now + 230) / 2, 30)">{{ t('explorer.pic.absolute') }}</text>
    <template v-if="(numbers.vacuum ?? 0) > 0.5">
      <path :d="`M270 ${baro}V${now}`" stroke="var(--accent)" stroke-width="10" />
      <text x="284" :y="(baro + now) / 2 + 4" class="b">{{ (numbers.vacuum ?? 0).toFixed(0) }}</text>
      <text x="312" :y="(baro + now) / 2 + 4">{{ t('explorer.pic.vacuumRuler') }}</text>
    </template>
    <template v-if="(numbers.boost ?? 0) > 0.5">
      <path :d="`M270 ${baro}V${now}`" stroke="var(--airflow)" stroke-width="10" />
      <text x="284" :y="(baro + now) / 2 + 4" class="b">{{ (numbers.boost ?? 0).toFixed(0) }}</text>
      <text x="312" :y="(baro + now) / 2 + 4">{{ t('explorer.pic.boost') }}</text>
    </template>
    <path :d="`M194 ${now}H270`" class="lead" />
  </svg>
</template>
