<script setup lang="ts">
import type { BodyProps } from '@/parts/stations/kind'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import ReadingTable from '@/parts/stations/ReadingTable.vue'

type Answer = Schemas['ConcludeAnswer']

/** The readings of the car, and the causes to choose from. */
defineProps<BodyProps<'conclude'>>()
const emit = defineEmits<{ change: [answer: Answer] }>()
const { t } = useI18n()
</script>

<template>
  <div class="conclude">
    <ReadingTable :readings="view.readings" />
    <fieldset class="causes" :disabled="disabled">
      <legend class="label">{{ t('stations.conclude.yourCause') }}</legend>
      <label v-for="cause in view.causes" :key="cause.id" :class="{ on: answer.cause === cause.id }">
        <input
          type="radio"
          :name="`${name}-cause`"
          :value="cause.id"
          :checked="answer.cause === cause.id"
          @change="emit('change', { ...answer, cause: cause.id })"
        />
        {{ cause.label }}
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.conclude {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-5);
  align-items: flex-start;
}
.causes {
  border: 0;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  min-width: 270px;
}
.causes legend {
  padding: var(--space-1) 0;
}
.causes label {
  display: flex;
  gap: 9px;
  align-items: baseline;
  padding: 7px 8px;
  border-top: 1px solid var(--rule);
  cursor: pointer;
}
.causes label.on {
  background: var(--surface-strong);
  font-weight: 600;
}
.causes input {
  accent-color: var(--accent);
}
</style>
