<script setup lang="ts">
import { useI18n } from 'vue-i18n'

/** What was given beside what is right, row by row, with the reason. */
defineProps<{
  rows: { id: string; label: string; given: string; right: string; reason: string; points?: number | null }[]
}>()
const { t } = useI18n()
</script>

<template>
  <table class="plain stacks">
    <thead>
      <tr>
        <th></th>
        <th>{{ t('debrief.given') }}</th>
        <th>{{ t('debrief.right') }}</th>
        <th>{{ t('debrief.why') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.id" :class="{ off: row.points === 0 }">
        <td class="what">{{ row.label }}</td>
        <td :data-label="t('debrief.given')">{{ row.given }}</td>
        <td :data-label="t('debrief.right')">
          <b>{{ row.right }}</b>
        </td>
        <td class="why" :data-label="t('debrief.why')">{{ row.reason }}</td>
      </tr>
    </tbody>
  </table>
</template>
