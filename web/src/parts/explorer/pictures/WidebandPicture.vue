<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** Measuring chamber between pump cell and sensing cell; ions go out when lean, in when rich. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const strength = computed(() => Math.min(5, Math.ceil(Math.abs(props.numbers.current ?? 0) / 0.25)))
const out = computed(() => (props.numbers.direction ?? 0) > 0)
const dots = computed(() => Math.min(16, Math.round((props.numbers.outside ?? 0) * 1.2)))
const places = Array.from({ length: 16 }, (_, k) => ({ x: 22 + ((k * 67) % 340), y: 20 + ((k * 29) % 44) }))
</script>

<template>
  <svg viewBox="0 0 380 250">
    <text x="10" y="15">{{ t('explorer.pic.exhaust') }}</text>
    <circle
      v-for="(place, k) in places.slice(0, dots)"
      :key="k"
      :cx="place.x"
      :cy="place.y"
      r="2.6"
      fill="none"
      stroke="var(--oxygen)"
      stroke-width="1.4"
    />
    <!-- pump cell: the wall of the chamber to the exhaust, with the passage in its middle -->
    <rect x="40" y="80" width="130" height="24" fill="var(--ceramic-hot)" stroke="var(--text)" />
    <rect x="210" y="80" width="130" height="24" fill="var(--ceramic-hot)" stroke="var(--text)" />
    <path d="M170 80v24M210 80v24" class="ink" />
    <path d="M180 70v40M190 70v40M200 70v40" stroke="var(--text-faint)" stroke-dasharray="3 3" />
    <text x="150" y="70" text-anchor="end">{{ t('explorer.pic.diffusion') }}</text>
    <path d="M154 67 184 84" class="lead" />
    <text x="44" y="97" class="b">{{ t('explorer.pic.pump') }}</text>
    <!-- chamber -->
    <rect x="40" y="104" width="300" height="34" fill="var(--field)" stroke="var(--text)" />
    <text x="48" y="126">{{ t('explorer.pic.chamber') }}</text>
    <!-- sensing cell -->
    <rect x="40" y="138" width="300" height="24" fill="var(--ceramic-hot)" stroke="var(--text)" />
    <text x="48" y="155" class="b">{{ t('explorer.pic.sensing') }} {{ (numbers.sensing ?? 0).toFixed(2) }} V</text>
    <rect x="40" y="162" width="300" height="28" fill="var(--surface-sunk)" stroke="var(--text)" />
    <text x="48" y="181">{{ t('explorer.pic.reference') }}</text>
    <circle v-for="k in 9" :key="`a${k}`" :cx="150 + 20 * k" cy="176" r="2.2" fill="var(--oxygen)" />
    <path d="M40 208h300" stroke="var(--temperature)" stroke-width="3" stroke-dasharray="8 5" />
    <text x="48" y="226">{{ t('explorer.pic.heater') }}</text>
    <g class="flow">
      <path
        v-for="k in strength"
        :key="`p${k}`"
        :d="out ? `M${232 + 18 * k} 112V66m-4 6l4 -6l4 6` : `M${232 + 18 * k} 66V112m-4 -6l4 6l4 -6`"
      />
    </g>
  </svg>
</template>
