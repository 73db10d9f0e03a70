<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'

/** Which piece of handwork. */
defineProps<FormProps<'procedure'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Procedure']>] }>()
const { t, tm } = useI18n()
const pieces = Object.keys(tm('stations.procedure.pieces') as Record<string, unknown>)
</script>

<template>
  <label class="label" for="procedure-piece">{{ t('stations.procedure.piece') }}</label>
  <select
    id="procedure-piece"
    :value="station.piece"
    @change="emit('change', { piece: ($event.target as HTMLSelectElement).value })"
  >
    <option v-for="piece in pieces" :key="piece" :value="piece">{{ t(`stations.procedure.pieces.${piece}`) }}</option>
  </select>
</template>
