<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Hands } from '@/parts/explorer/useDrawing'

/** A thimble of zirconia in the pipe: air inside, exhaust outside, ions through the wall. */
const props = defineProps<{ hands: Hands; numbers: Record<string, number> }>()
const { t } = useI18n()
const isCold = computed(() => props.numbers.cold === 1)
const dots = computed(() => Math.max(0, Math.min(14, Math.round((props.numbers.oxygen ?? 0) * 3))))
const arrows = computed(() => Math.max(0, Math.min(5, Math.round((props.numbers.cell ?? 0) * 5.5))))
const DOTS = [60, 320, 96, 288, 40, 346, 80, 306, 110, 272, 24, 362, 70, 312].map((x, k) => [
  x,
  [150, 160, 190, 196, 206, 214, 230, 232, 150, 152, 172, 178, 174, 140][k] ?? 0,
])
const AIR = [164, 172, 206, 214, 166, 176, 204, 212, 168, 180, 200, 210, 178, 202].map((x, k) => [
  x,
  [70, 92, 64, 88, 112, 132, 116, 136, 152, 172, 176, 156, 188, 190][k] ?? 0,
])
</script>

<template>
  <svg viewBox="0 0 380 250">
    <defs>
      <pattern id="metal" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="5" stroke="var(--text-soft)" stroke-width="0.8" />
      </pattern>
    </defs>
    <path d="M0 96h96v22H0ZM284 96h96v22h-96Z" fill="url(#metal)" stroke="var(--text)" />
    <path d="M96 20h188v98h-30V52H126v66H96Z" fill="url(#metal)" stroke="var(--text)" />
    <path
      d="M132 34h22v128c0 26 16 40 36 40s36-14 36-40V34h22v130c0 40-26 60-58 60s-58-20-58-60Z"
      :fill="isCold ? 'var(--ceramic-cold)' : 'var(--ceramic-hot)'"
      stroke="var(--text)"
    />
    <path d="M132 120v44c0 40 26 60 58 60s58-20 58-60v-44" fill="none" stroke="var(--oxygen)" stroke-width="3.5" />
    <path d="M154 120v42c0 26 16 40 36 40s36-14 36-40v-42" fill="none" stroke="var(--oxygen)" stroke-width="3.5" />
    <path d="M186 34v118h8V34" fill="var(--field)" stroke="var(--temperature)" stroke-width="1.6" />
    <text x="196" y="30">{{ t('explorer.pic.heater') }}</text>
    <circle v-for="([x, y], k) in AIR" :key="k" :cx="x" :cy="y" r="2.2" fill="var(--oxygen)" />
    <circle
      v-for="([x, y], k) in DOTS.slice(0, dots)"
      :key="`o${k}`"
      :cx="x"
      :cy="y"
      r="2.6"
      fill="none"
      stroke="var(--oxygen)"
      stroke-width="1.4"
    />
    <g v-if="!isCold" class="flow">
      <path
        v-for="k in arrows"
        :key="k"
        :d="`M${k % 2 ? 158 : 222} ${128 + k * 11}h${k % 2 ? -20 : 20}m${k % 2 ? 5 : -5} -3l${k % 2 ? -5 : 5} 3l${k % 2 ? 5 : -5} 3`"
      />
    </g>
    <text x="10" y="88">{{ t('explorer.pic.exhaust') }}</text>
    <text x="262" y="14">{{ t('explorer.pic.outsideAir') }}</text>
    <path d="M258 12 210 60" class="lead" />
  </svg>
</template>
