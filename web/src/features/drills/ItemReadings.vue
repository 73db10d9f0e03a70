<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

type Reading = Schemas['StationReading'] & Partial<Pick<Schemas['JudgedReading'], 'verdict' | 'reason' | 'tells'>>

/** Readings of one engine, or of two beside each other; with verdicts once they may be seen. */
const props = defineProps<{ engines: Reading[][] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
const pair = computed(() => props.engines.length > 1)
const judged = computed(() => props.engines[0]?.[0]?.verdict !== undefined)
const rows = computed(() =>
  (props.engines[0] ?? []).map((reading, k) => ({ reading, all: props.engines.map((engine) => engine[k]!) })),
)
</script>

<template>
  <table class="plain stacks">
    <thead>
      <tr>
        <th>{{ t('player.condition') }}</th>
        <th>{{ t('player.reading') }}</th>
        <th v-for="(_engine, k) in engines" :key="k" class="number">
          {{ pair ? t(k ? 'drills.second' : 'drills.first') : t('player.value') }}
        </th>
        <th v-if="judged && !pair">{{ t('debrief.why') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, k) in rows" :key="k" :class="{ tells: row.reading.tells }">
        <td class="what">{{ row.reading.condition_label }}</td>
        <td :data-label="t('player.reading')">
          <i class="family" :style="{ background: `var(--${row.reading.family})` }"></i>{{ row.reading.label }}
          <span v-if="row.reading.tells" class="small mark">{{ t('drills.tells') }}</span>
        </td>
        <td v-for="(reading, j) in row.all" :key="j" class="number value">
          {{ withUnit(reading) }}
          <VerdictMark v-if="judged" :kind="reading.verdict!" :bare="pair" />
        </td>
        <td v-if="judged && !pair" class="why small" :data-label="t('debrief.why')">{{ row.reading.reason }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.value {
  white-space: nowrap;
  font-weight: 600;
}
.family {
  display: inline-block;
  width: 4px;
  height: 14px;
  margin-right: 7px;
  vertical-align: -2px;
}
.mark {
  display: block;
  color: var(--accent);
}
</style>
