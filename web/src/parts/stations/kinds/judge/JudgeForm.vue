<script setup lang="ts">
import type { FormProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'
import { typedNumber } from '@/parts/stations/typed'

/** The pool, and how many of it each learner gets. */
defineProps<FormProps<'judge'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Judge']>] }>()
const { t } = useI18n()
</script>

<template>
  <label class="label" for="count">{{ t('stations.judge.count') }}</label>
  <input
    id="count"
    class="short"
    type="number"
    min="1"
    max="12"
    :value="station.count"
    @change="emit('change', { count: Math.round(typedNumber($event, 1, 12) ?? station.count) })"
  />
  <ReadingPlaces
    :label="t('stations.judge.pool')"
    :places="station.pool"
    :conditions="conditions"
    :only="only"
    @change="(pool) => emit('change', { pool })"
  />
</template>
