<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** Each reading with the verdict that was given, the right one, and why. */
defineProps<{ parts: Schemas['MarkedJudge']['parts'] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
</script>

<template>
  <table class="plain stacks">
    <thead>
      <tr>
        <th>{{ t('player.reading') }}</th>
        <th class="number">{{ t('player.value') }}</th>
        <th>{{ t('debrief.given') }}</th>
        <th>{{ t('debrief.right') }}</th>
        <th>{{ t('debrief.why') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(part, k) in parts" :key="k" :class="{ off: part.points !== 1 }">
        <td class="what">
          <div>
            {{ part.condition_label }}<br /><span class="soft"
              >{{ part.label }},
              {{ t(part.from_faulty_car ? 'stations.judge.yourCar' : 'stations.judge.otherCar') }}</span
            >
          </div>
        </td>
        <td class="number" :data-label="t('player.value')">
          <b>{{ withUnit(part) }}</b>
        </td>
        <td :data-label="t('debrief.given')"><VerdictMark v-if="part.given" :kind="part.given" /></td>
        <td :data-label="t('debrief.right')"><VerdictMark :kind="part.verdict" /></td>
        <td class="why">{{ part.reason }}</td>
      </tr>
    </tbody>
  </table>
</template>
