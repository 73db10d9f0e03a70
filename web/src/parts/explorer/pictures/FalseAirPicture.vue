<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** The way of the air with its side rooms, and where the hole is. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const AT: Record<string, [number, number]> = {
  duct: [118, 74],
  charge: [178, 74],
  gasket: [290, 74],
  servo: [322, 190],
  breather: [228, 150],
  cover: [160, 214],
  injector: [346, 74],
}
const at = computed((): [number, number] => AT[String(props.hands.place)] ?? [0, 0])
const inward = computed(() => (props.numbers.leak ?? 0) >= 0)
const boosted = computed(() => props.hands.regime === 'boost')
</script>

<template>
  <svg viewBox="0 0 380 250">
    <path d="M10 74H216M10 112H216M236 74H370M236 112H370" class="ink" />
    <rect x="18" y="66" width="30" height="54" class="wall" />
    <text x="16" y="60">{{ t('explorer.pic.filter') }}</text>
    <rect x="72" y="70" width="12" height="46" fill="var(--airflow)" />
    <text x="62" y="134">{{ t('explorer.pic.meter') }}</text>
    <circle v-if="boosted" cx="146" cy="93" r="17" class="wall" />
    <text v-if="boosted" x="118" y="134">{{ t('explorer.pic.compressor') }}</text>
    <path d="M216 74V112" class="ink" />
    <path :d="hands.regime === 'idle' ? 'M226 76V110' : 'M216 93H238'" stroke="var(--text)" stroke-width="4" />
    <text x="204" y="60">{{ t('explorer.pic.throttle') }}</text>
    <text x="270" y="100">{{ t('explorer.pic.manifold') }}</text>
    <!-- side rooms -->
    <path d="M310 112V170" class="ink" />
    <rect x="284" y="170" width="66" height="42" class="wall" />
    <text x="296" y="230">{{ t('explorer.pic.servo') }}</text>
    <path d="M256 112V150H170V176" class="ink" />
    <rect x="120" y="176" width="100" height="46" class="wall" />
    <text x="130" y="238">{{ t('explorer.pic.crankcase') }}</text>
    <text x="16" y="24" class="b">{{ Math.round(numbers.local ?? 0) }} kPa</text>
    <!-- the hole -->
    <circle :cx="at[0]" :cy="at[1]" r="5" fill="var(--accent)" />
    <path
      v-if="Math.abs(numbers.leak ?? 0) > 0.004"
      :d="inward ? `M${at[0]} ${at[1] - 34}v28m-4 -7l4 7l4 -7` : `M${at[0]} ${at[1] - 6}v-28m-4 7l4 -7l4 7`"
      class="flow"
    />
    <text x="304" y="24" class="b">{{ (numbers.leak ?? 0).toFixed(2).replace('-', '−') }} g/s</text>
  </svg>
</template>
