<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { BodyProps } from '@/parts/stations/kind'
import ValuesTable from './ValuesTable.vue'
import { inside } from '@/parts/prose/inside'

/** Before and after, and whether it is mended. */
defineProps<BodyProps<'verify'>>()
const emit = defineEmits<{ change: [answer: Schemas['VerifyAnswer']] }>()
const { t } = useI18n()
const CHOICES = ['mended', 'not_mended', 'not_shown'] as const
</script>

<template>
  <div>
    <p class="complaint">{{ t('stations.verify.was', { where: inside(view.complaint_label) }) }}</p>
    <ValuesTable :rows="view.readings" :complaint="view.complaint" />
    <fieldset :disabled="disabled">
      <legend class="label">{{ t('stations.verify.ask') }}</legend>
      <label v-for="choice in CHOICES" :key="choice" :class="{ on: answer.state === choice }">
        <input
          type="radio"
          :name="`${name}-said`"
          :value="choice"
          :checked="answer.state === choice"
          @change="emit('change', { ...answer, state: choice })"
        />
        {{ t(`stations.verify.${choice}`) }}
      </label>
    </fieldset>
  </div>
</template>

<style scoped>
.complaint {
  margin: 0 0 var(--space-2);
}
fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  border: 0;
  margin: var(--space-3) 0 0;
  padding: 0;
}
fieldset label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  padding: 4px 10px;
  border: 1px solid var(--edge);
  cursor: pointer;
}
fieldset label.on {
  background: var(--surface-strong);
  font-weight: 600;
}
input {
  accent-color: var(--accent);
}
</style>
