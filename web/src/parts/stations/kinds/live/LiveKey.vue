<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import KeyRow from '@/parts/stations/KeyRow.vue'
import { useReadings } from '@/parts/stations/readings'

/** What the engine shows, and how near is near enough. */
const props = defineProps<{ parts: Schemas['LiveKey']['parts'] }>()
const { t } = useI18n()
const { withUnit, difference } = useReadings()
</script>

<template>
  <template v-for="(part, k) in props.parts" :key="k">
    <KeyRow v-for="(reading, j) in part.readings" :key="j" :reason="reading.reason">
      <b>{{ withUnit(reading) }}</b>
      {{ t('stations.live.tolerated', { value: difference(reading.tolerance, reading) }) }}
      <span class="soft"> {{ reading.condition_label }}, {{ reading.label }}</span>
    </KeyRow>
    <p v-if="!part.readings.length" class="soft small">{{ t('stations.live.nothingRead') }}</p>
  </template>
</template>
