<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import HeedFirst from '@/parts/stations/HeedFirst.vue'
import type { BodyProps } from '@/parts/stations/kind'

/** The cautions, acknowledged where the hand is; then stage by stage, the next one when there is a choice. */
const props = defineProps<BodyProps<'procedure'>>()
const emit = defineEmits<{ change: [answer: Schemas['ProcedureAnswer']] }>()
const { t } = useI18n()
const done = computed<Record<string, string>>(() => props.answer.done ?? {})
const reached = computed(() => {
  if (!props.answer.heeded) return 0
  const first = props.view.stages.findIndex((stage) => !done.value[stage.id])
  return first < 0 ? props.view.stages.length : first + 1
})
</script>

<template>
  <div class="piece">
    <HeedFirst
      :texts="view.cautions"
      :heeded="answer.heeded === true"
      :disabled="disabled"
      @heed="(heeded) => emit('change', { ...answer, heeded })"
    />
    <ol>
      <li v-for="(stage, k) in view.stages.slice(0, reached)" :key="stage.id">
        <span class="label">{{ t('stations.procedure.stage', { n: k + 1, all: view.stages.length }) }}</span>
        <fieldset :disabled="disabled">
          <legend>{{ stage.situation }}</legend>
          <label v-for="choice in stage.choices" :key="choice.id" :class="{ on: done[stage.id] === choice.id }">
            <input
              type="radio"
              :name="`${name}-${stage.id}`"
              :value="choice.id"
              :checked="done[stage.id] === choice.id"
              @change="emit('change', { ...answer, done: { ...done, [stage.id]: choice.id } })"
            />
            <span>{{ choice.text }}</span>
          </label>
        </fieldset>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.piece {
  max-width: 720px;
}
ol {
  list-style: none;
  margin: var(--space-3) 0 0;
  padding: 0;
}
ol > li {
  border-top: 1px solid var(--text);
  padding: var(--space-2) 0 var(--space-3);
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
legend {
  font-weight: 600;
  padding: 0 0 4px;
}
fieldset label {
  display: flex;
  gap: 9px;
  align-items: baseline;
  padding: 6px 8px;
  border-top: 1px solid var(--rule);
  cursor: pointer;
}
fieldset label.on {
  background: var(--surface-strong);
}
input {
  accent-color: var(--accent);
}
</style>
