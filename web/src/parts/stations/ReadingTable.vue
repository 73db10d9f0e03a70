<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'

/** Readings with condition, value and unit; what stands behind each row is the slot's. */
defineProps<{ readings: Schemas['StationReading'][]; verdicts?: boolean }>()
const { t } = useI18n()
const { value, unit } = useReadings()
</script>

<template>
  <div class="holder">
    <table class="plain readings">
      <thead>
        <tr>
          <th>{{ t('player.condition') }}</th>
          <th>{{ t('player.reading') }}</th>
          <th class="number">{{ t('player.value') }}</th>
          <th></th>
          <th v-if="verdicts">{{ t('player.yourVerdict') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(reading, k) in readings" :key="k" :data-testid="`row-${k}`">
          <td>{{ reading.condition_label }}</td>
          <td><i class="family" :style="{ background: `var(--${reading.family})` }"></i>{{ reading.label }}</td>
          <td class="number value">{{ value(reading) }}</td>
          <td class="soft unit">
            {{ unit(reading) }}
            <span v-if="reading.substitute" class="substitute" :title="t('player.substituteMeans')">{{
              t('player.substitute')
            }}</span>
          </td>
          <td v-if="verdicts" class="verdict-cell"><slot :k="k" :reading="reading" /></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.holder {
  container-type: inline-size;
  width: 100%;
}
@container (max-width: 780px) {
  .verdict-cell :deep(.option:not(.on) .verdict > span) {
    display: none;
  }
}
.readings {
  width: auto;
  min-width: 520px;
}
@container (max-width: 540px) {
  .readings {
    min-width: 0;
    width: 100%;
  }
  .readings thead {
    display: none;
  }
  .readings tr {
    display: grid;
    grid-template-columns: 1fr auto auto;
    gap: 0 var(--space-2);
    padding: var(--space-2) 0;
    border-bottom: 1px solid var(--rule);
  }
  .readings td {
    border: 0;
    padding: 0;
  }
  .readings td:first-child,
  .verdict-cell {
    grid-column: 1 / -1;
  }
}
.readings td {
  vertical-align: middle;
}
.family {
  display: inline-block;
  width: 4px;
  height: 14px;
  margin-right: 7px;
  vertical-align: -2px;
}
.value {
  font-weight: 600;
  font-size: 15px;
  padding-right: 2px;
}
.unit {
  padding-left: 4px;
  padding-right: var(--space-4);
  white-space: nowrap;
}
.substitute {
  margin-left: var(--space-1);
  padding: 0 5px;
  border: 1px dashed var(--rule);
  font-size: 12px;
}
.verdict-cell {
  white-space: nowrap;
}
</style>
