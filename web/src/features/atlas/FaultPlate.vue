<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

/** What the eye sees: tips of oxygen sensors, terminals, hoses. Nothing for faults that cannot be seen. */
const props = defineProps<{ kind: string; params: Record<string, string | number> }>()
const { t } = useI18n()
const TIPS = ['normal', 'soot', 'oil', 'silicone', 'coolant', 'lead'] as const
const TERMINALS = ['good', 'green', 'spread', 'ring']
const HOSES = ['good', 'cracked', 'off', 'kinked', 'burnt']
const OF: Record<string, [plates: readonly string[], group: string, shown: string[]]> = {
  ho2s_contaminated: [TIPS, 'tip', []],
  series_resistance: [TERMINALS, 'terminal', ['green']],
  supply_resistance: [TERMINALS, 'terminal', ['green']],
  connector_intermittent: [TERMINALS, 'terminal', ['spread']],
  ground_resistance: [TERMINALS, 'terminal', ['ring']],
  manifold_vacuum_leak: [HOSES, 'hose', ['cracked', 'off']],
  map_hose_leak: [HOSES, 'hose', ['cracked']],
  map_hose_blocked: [HOSES, 'hose', ['kinked']],
  wastegate_hose_leak: [HOSES, 'hose', ['cracked']],
  dp_hose_fault: [HOSES, 'hose', ['burnt']],
  egr_dp_hoses: [HOSES, 'hose', ['burnt']],
  air_leak_before_throttle: [HOSES, 'hose', ['cracked']],
  boost_leak: [HOSES, 'hose', ['cracked', 'off']],
}
const plates = computed(() => OF[props.kind])
/** A deposit is the one that the fault is about; other plates have theirs. */
const shown = computed(() =>
  plates.value?.[1] === 'tip' ? [String(props.params.deposit ?? '')] : (plates.value?.[2] ?? []),
)
</script>

<template>
  <ul v-if="plates" class="plates">
    <li v-for="plate in plates[0]" :key="plate" :class="{ on: shown.includes(plate) }">
      <svg v-if="plates[1] === 'tip'" viewBox="0 0 90 76" aria-hidden="true">
        <path d="M6 4h40v26h-40z" fill="var(--surface-strong)" stroke="var(--text)" />
        <path d="M2 30h48v12H2z" fill="var(--surface-strong)" stroke="var(--text)" />
        <path d="M12 42h28v20q0 10 -14 10t-14 -10z" :class="['tip', plate]" stroke="var(--text)" />
        <g class="slots" stroke="var(--text)" stroke-width="1.2"><path d="M19 48v14M26 48v16M33 48v14" /></g>
        <g v-if="plate === 'oil'" fill="var(--text)">
          <path d="M56 40q6 9 0 13q-6 -4 0 -13M70 52q5 8 0 11q-5 -3 0 -11" />
        </g>
        <g v-if="plate === 'silicone' || plate === 'coolant'" fill="var(--text-faint)">
          <circle v-for="k in 7" :key="k" :cx="15 + ((k * 7) % 23)" :cy="47 + ((k * 5) % 19)" r="1.7" />
        </g>
        <g v-if="plate === 'coolant'" stroke="var(--airflow)" fill="none">
          <path d="M58 44q6 4 0 8t0 8M68 44q6 4 0 8t0 8" />
        </g>
        <g v-if="plate === 'lead'" stroke="var(--text)"><path d="M14 54h24M14 58h24M14 62h24" stroke-width="0.6" /></g>
      </svg>
      <svg v-else-if="plates[1] === 'terminal'" viewBox="0 0 90 76" aria-hidden="true">
        <template v-if="plate !== 'ring'">
          <path d="M8 38H30" stroke="var(--text)" stroke-width="5" />
          <path
            :d="plate === 'spread' ? 'M30 30h22l20 -10M30 46h22l20 10' : 'M30 30h22l18 4M30 46h22l18 -4'"
            fill="none"
            stroke="var(--text)"
            stroke-width="3"
          />
          <g v-if="plate === 'green'" fill="var(--airflow)">
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
      <svg v-else viewBox="0 0 90 76" aria-hidden="true">
        <path d="M64 44h24M64 60h24" stroke="var(--text)" stroke-width="2" />
        <template v-if="plate === 'off'">
          <path d="M4 20h40M4 36h40" fill="none" stroke="var(--text)" stroke-width="4" />
        </template>
        <template v-else-if="plate === 'kinked'">
          <path d="M4 20h24l10 16l10 10h20M4 36h18l12 4l10 20h24" fill="none" stroke="var(--text)" stroke-width="4" />
        </template>
        <template v-else>
          <path d="M4 28h20q20 0 24 16h20M4 44h14q14 0 20 16h30" fill="none" stroke="var(--text)" stroke-width="4" />
          <path
            v-if="plate === 'cracked'"
            d="M26 24l6 8l-4 4l8 8"
            fill="none"
            stroke="var(--accent)"
            stroke-width="2.4"
          />
          <path v-if="plate === 'burnt'" d="M22 26q8 4 10 12q-8 0 -14 -4z" fill="var(--text)" />
        </template>
      </svg>
      <span class="small">{{ t(`atlas.plates.${plates[1]}.${plate}`) }}</span>
    </li>
  </ul>
</template>

<style scoped>
.plates {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  list-style: none;
  margin: 0 0 var(--space-3);
  padding: 0;
}
li {
  width: 108px;
  border: 1px solid var(--rule);
  padding: 6px;
  text-align: center;
}
li.on {
  border: 2px solid var(--accent);
  padding: 5px;
}
svg {
  width: 90px;
  height: 76px;
}
li span {
  display: block;
  line-height: 1.25;
}
.tip {
  fill: var(--clay);
}
.soot {
  fill: var(--ink-0);
}
.oil {
  fill: var(--ink-1);
}
.silicone,
.coolant {
  fill: var(--white);
}
.lead {
  fill: var(--paper-4);
}
.soot ~ .slots,
.oil ~ .slots {
  stroke: var(--paper-3);
}
</style>
