<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'
import { useReadings } from '@/parts/stations/readings'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** The value that is right, and how near is near enough. */
defineProps<{ parts: Schemas['MeasureKey']['parts'] }>()
const { t } = useI18n()
const { withUnit, difference } = useReadings()
</script>

<template>
  <KeyRow v-for="(part, k) in parts" :key="k" :reason="part.reason">
    <VerdictMark :kind="part.verdict" />
    <span>
      <b>{{ withUnit(part) }}</b>
      {{ t('stations.measure.tolerated', { value: difference(part.tolerance, part) }) }}
      <span class="soft"> {{ part.condition_label }}, {{ part.label }}</span>
    </span>
  </KeyRow>
</template>
