<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Element and air thermometer in the duct, the bridge between them, and the amplifier that keeps the step. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const streams = computed(() => Math.min(6, Math.ceil(Number(props.hands.flow) / 20)))
const glow = computed(() => 1 + 4 * Math.min(1, (props.numbers.amps ?? 0) / 0.5))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M10 40H370M10 130H370" class="ink" />
    <text x="16" y="34">{{ t('explorer.pic.stream') }}</text>
    <g class="flow">
      <path v-for="k in streams" :key="k" :d="`M20 ${50 + 12 * k}h${50 + 12 * streams}m-7 -4l7 4l-7 4`" />
    </g>
    <path d="M170 60v50" stroke="var(--temperature)" stroke-width="3" />
    <path d="M250 60v50" stroke="var(--airflow)" :stroke-width="3 + glow" />
    <path
      v-if="Number(hands.film) > 0"
      d="M250 58v54"
      stroke="var(--text-faint)"
      stroke-width="12"
      :stroke-opacity="Number(hands.film) / 60"
    />
    <text x="132" y="54">{{ t('explorer.pic.thermometer') }}</text>
    <text x="236" y="54" class="b">{{ t('explorer.pic.element') }} {{ Math.round(numbers.element ?? 0) }} °C</text>
    <!-- the bridge -->
    <path d="M170 110v40l40 34M250 110v40l-40 34M170 150l40 -18l40 18" class="ink" />
    <path d="M210 184v10" class="ink" />
    <path d="M178 194h64l-32 34z" class="wall" />
    <text x="248" y="214">{{ t('explorer.pic.amplifier') }}</text>
    <path d="M210 228v14H330V100h-74" class="ink" stroke-dasharray="4 3" />
    <text x="336" y="180" class="b">{{ (numbers.amps ?? 0).toFixed(2) }} A</text>
    <text x="136" y="222" class="b">{{ (numbers.volts ?? 0).toFixed(2) }} V</text>
  </svg>
</template>
