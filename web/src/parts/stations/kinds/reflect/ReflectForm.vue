<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import { typedNumber } from '@/parts/stations/typed'

/** How much is asked for. */
defineProps<FormProps<'reflect'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Reflect']>] }>()
const { t } = useI18n()
</script>

<template>
  <label class="label" for="reflect-words">{{ t('stations.reflect.atLeast') }}</label>
  <input
    id="reflect-words"
    class="short"
    type="number"
    min="0"
    max="200"
    :value="station.words"
    @change="emit('change', { words: typedNumber($event, 0, 200) ?? station.words })"
  />
</template>
