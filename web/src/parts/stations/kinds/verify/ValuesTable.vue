<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** Readings before and after, with the verdict on the second where it is known. */
defineProps<{ rows: (Schemas['BeforeAndAfter'] & { verdict?: string; reason?: string })[]; complaint?: string }>()
const { t } = useI18n()
const { withUnit } = useReadings()
</script>

<template>
  <table class="plain values stacks">
    <thead>
      <tr>
        <th>{{ t('player.condition') }}</th>
        <th>{{ t('player.reading') }}</th>
        <th class="number">{{ t('stations.verify.before') }}</th>
        <th class="number">{{ t('stations.verify.after') }}</th>
        <th v-if="rows.some((row) => row.verdict !== undefined)">{{ t('debrief.why') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, k) in rows" :key="k">
        <td class="what">
          {{ row.condition_label }}
          <span v-if="row.condition === complaint" class="small mark">{{ t('stations.verify.here') }}</span>
        </td>
        <td :data-label="t('player.reading')">{{ row.label }}</td>
        <td class="number" :data-label="t('stations.verify.before')">{{ withUnit(row) }}</td>
        <td class="number" :data-label="t('stations.verify.after')">
          <b v-if="row.driven">{{ withUnit({ ...row, value: row.after }) }}</b>
          <span v-else class="soft">{{ t('stations.verify.notDriven') }}</span>
        </td>
        <td v-if="row.verdict !== undefined" class="why" :data-label="t('debrief.why')">
          <VerdictMark v-if="row.verdict" :kind="row.verdict as never" />
          {{ row.reason }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.values {
  width: 100%;
  max-width: 820px;
}
.number {
  white-space: nowrap;
}
.mark {
  display: block;
  color: var(--accent);
}
</style>
