<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'

/** The same readings of several engines beside each other. `telling`: places of those that stand out, engine by engine. */
defineProps<{ sheets: Schemas['StationReading'][][]; telling?: number[][] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
</script>

<template>
  <div class="holder">
    <table class="plain">
      <thead>
        <tr>
          <th>{{ t('player.condition') }}</th>
          <th>{{ t('player.reading') }}</th>
          <th v-for="(_sheet, k) in sheets" :key="k" class="number">{{ t('stations.sheet.engine', { n: k + 1 }) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(reading, j) in sheets[0]" :key="j">
          <td>{{ reading.condition_label }}</td>
          <td><i class="family" :style="{ background: `var(--${reading.family})` }"></i>{{ reading.label }}</td>
          <td v-for="(sheet, k) in sheets" :key="k" class="number" :class="{ tells: telling?.[k]?.includes(j) }">
            {{ sheet[j] ? withUnit(sheet[j]) : '' }}
            <span v-if="sheet[j]?.substitute" class="small">{{ t('player.substitute') }}</span>
            <span v-if="telling?.[k]?.includes(j)" class="small">{{ t('stations.sheet.tells') }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.holder {
  overflow-x: auto;
}
.family {
  display: inline-block;
  width: 4px;
  height: 12px;
  margin-right: 7px;
}
.tells {
  font-weight: 600;
  border-bottom: 2px solid var(--faulty);
}
.tells .small {
  display: block;
  font-weight: 400;
}
</style>
