<script setup lang="ts">
import { computed } from 'vue'

/** What the eye sees, by the name of the drawing: tips of oxygen sensors (t), terminals (c), hoses (h), sensors along the
 * exhaust of an engine with two banks (b). The name tells nothing of what it means. */
const props = defineProps<{ look: string; sight: string }>()
const group = computed(() => props.look[0])
/** In the upper or lower row, before or behind the catalyst, and in which row the first cylinder lies. */
const bank = computed(() => {
  const k = Number(props.look.slice(1)) - 1
  const first = k >= 4 ? 1 : 0
  return { first, behind: k % 2, side: (k % 4 >= 2 ? 1 : 0) ^ first }
})
</script>

<template>
  <svg v-if="group === 't'" viewBox="0 0 90 76" role="img" :aria-label="sight">
    <path d="M6 4h40v26h-40z" fill="var(--surface-strong)" stroke="var(--text)" />
    <path d="M2 30h48v12H2z" fill="var(--surface-strong)" stroke="var(--text)" />
    <path d="M12 42h28v20q0 10 -14 10t-14 -10z" :class="['tip', look]" stroke="var(--text)" />
    <g class="slots" stroke="var(--text)" stroke-width="1.2"><path d="M19 48v14M26 48v16M33 48v14" /></g>
    <g v-if="look === 't3'" fill="var(--text)">
      <path d="M56 40q6 9 0 13q-6 -4 0 -13M70 52q5 8 0 11q-5 -3 0 -11" />
    </g>
    <g v-if="look === 't4' || look === 't5'" fill="var(--text-faint)">
      <circle v-for="k in 7" :key="k" :cx="15 + ((k * 7) % 23)" :cy="47 + ((k * 5) % 19)" r="1.7" />
    </g>
    <g v-if="look === 't5'" stroke="var(--airflow)" fill="none">
      <path d="M58 44q6 4 0 8t0 8M68 44q6 4 0 8t0 8" />
    </g>
    <g v-if="look === 't6'" stroke="var(--text)"><path d="M14 54h24M14 58h24M14 62h24" stroke-width="0.6" /></g>
  </svg>
  <svg v-else-if="group === 'c'" viewBox="0 0 90 76" role="img" :aria-label="sight">
    <template v-if="look !== 'c4'">
      <path d="M8 38H30" stroke="var(--text)" stroke-width="5" />
      <path
        :d="look === 'c3' ? 'M30 30h22l20 -10M30 46h22l20 10' : 'M30 30h22l18 4M30 46h22l18 -4'"
        fill="none"
        stroke="var(--text)"
        stroke-width="3"
      />
      <g v-if="look === 'c2'" fill="var(--airflow)">
        <circle v-for="k in 12" :key="k" :cx="32 + ((k * 11) % 38)" :cy="27 + ((k * 13) % 24)" r="2.6" />
      </g>
    </template>
    <template v-else>
      <path d="M4 56H34" stroke="var(--text)" stroke-width="5" />
      <circle cx="52" cy="40" r="19" fill="none" stroke="var(--text)" stroke-width="7" stroke-dasharray="96 24" />
      <g fill="var(--pressure)">
        <circle v-for="k in 9" :key="k" :cx="38 + ((k * 9) % 30)" :cy="22 + ((k * 13) % 36)" r="2.4" />
      </g>
    </template>
  </svg>
  <svg v-else-if="group === 'h'" viewBox="0 0 90 76" role="img" :aria-label="sight">
    <path d="M64 44h24M64 60h24" stroke="var(--text)" stroke-width="2" />
    <template v-if="look === 'h3'">
      <path d="M4 20h40M4 36h40" fill="none" stroke="var(--text)" stroke-width="4" />
    </template>
    <template v-else-if="look === 'h4'">
      <path d="M4 20h24l10 16l10 10h20M4 36h18l12 4l10 20h24" fill="none" stroke="var(--text)" stroke-width="4" />
    </template>
    <template v-else>
      <path d="M4 28h20q20 0 24 16h20M4 44h14q14 0 20 16h30" fill="none" stroke="var(--text)" stroke-width="4" />
      <path v-if="look === 'h2'" d="M26 24l6 8l-4 4l8 8" fill="none" stroke="var(--accent)" stroke-width="2.4" />
      <path v-if="look === 'h5'" d="M22 26q8 4 10 12q-8 0 -14 -4z" fill="var(--text)" />
    </template>
  </svg>
  <svg v-else viewBox="0 0 150 76" role="img" :aria-label="sight">
    <g v-for="side in [0, 1]" :key="side" fill="none" stroke="var(--text)" stroke-width="1.5">
      <circle v-for="k in 3" :key="k" :cx="14 + 17 * (k - 1)" :cy="side ? 54 : 22" r="7" fill="var(--surface-strong)" />
      <path :d="side ? 'M14 64v6h54q8 0 10 -8h48' : 'M14 12v-6h54q8 0 10 8h48'" />
      <rect x="96" :y="side ? 54 : 6" width="18" height="16" rx="3" fill="var(--surface-strong)" />
    </g>
    <text x="14" :y="bank.first ? 58 : 26" text-anchor="middle" class="cylinder">1</text>
    <path d="M54 38h10m-3 -3l3 3l-3 3" stroke="var(--text-soft)" fill="none" />
    <template v-for="side in [0, 1]" :key="side">
      <circle
        v-for="behind in [0, 1]"
        :key="behind"
        :cx="behind ? 123 : 86"
        :cy="side ? 62 : 14"
        :r="bank.side === side && bank.behind === behind ? 6 : 3.5"
        :fill="bank.side === side && bank.behind === behind ? 'var(--accent)' : 'var(--surface)'"
        stroke="var(--text)"
        stroke-width="1.5"
      />
    </template>
  </svg>
</template>

<style scoped>
svg {
  height: 76px;
  max-width: 100%;
}
.cylinder {
  font-size: 10px;
  font-weight: 700;
  fill: var(--text);
}
.tip {
  fill: var(--clay);
}
.t2 {
  fill: var(--ink-0);
}
.t3 {
  fill: var(--ink-1);
}
.t4,
.t5 {
  fill: var(--white);
}
.t6 {
  fill: var(--paper-4);
}
.t2 ~ .slots,
.t3 ~ .slots {
  stroke: var(--paper-3);
}
</style>
