<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { useReadings } from '@/parts/stations/readings'

/** The bands by which what is typed is judged. */
defineProps<{ parts: Schemas['OwnKey']['parts'] }>()
const { t } = useI18n()
const { withUnit } = useReadings()
</script>

<template>
  <li v-for="(part, k) in parts" :key="k">
    {{ part.condition_label }}, {{ part.label }}:
    <b v-if="part.low !== null && part.high !== null">
      {{ withUnit({ ...part, value: part.low }) }} … {{ withUnit({ ...part, value: part.high }) }}
    </b>
    <span v-else class="soft">{{ t('stations.own.noBand') }}</span>
  </li>
</template>
