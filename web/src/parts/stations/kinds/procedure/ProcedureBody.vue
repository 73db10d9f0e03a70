<script setup lang="ts">
import { computed, inject, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import HeedFirst from '@/parts/stations/HeedFirst.vue'
import type { BodyProps } from '@/parts/stations/kind'
import { STEPS } from '@/parts/stations/steps'

/** The cautions, acknowledged where the hand is; then stage by stage. Where a learner works, each choice is done for good
 * and what comes of it is told before the next stage. */
const props = defineProps<BodyProps<'procedure'>>()
const emit = defineEmits<{ change: [answer: Schemas['ProcedureAnswer']] }>()
const { t } = useI18n()
const steps = inject(STEPS, undefined)
const busy = ref(false)
const told = computed(() => new Map((props.disabled ? [] : (steps?.taken.value ?? [])).map((s) => [s.name, s])))
const done = computed<Record<string, string>>(() => ({
  ...props.answer.done,
  ...Object.fromEntries([...told.value.values()].map((step) => [step.name, step.choice])),
}))
const finished = (id: string) => (steps && !props.disabled ? told.value.has(id) : !!done.value[id])
const reached = computed(() => {
  if (!props.answer.heeded) return 0
  const first = props.view.stages.findIndex((stage) => !finished(stage.id))
  return first < 0 ? props.view.stages.length : first + 1
})
async function take(stage: string) {
  busy.value = true
  await steps?.take(props.view.index, stage, done.value[stage] ?? '')
  busy.value = false
  emit('change', { ...props.answer, done: done.value })
}
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
        <fieldset :disabled="disabled || told.has(stage.id)">
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
        <p v-if="told.get(stage.id)" class="comes" :class="{ hurts: told.get(stage.id)?.hurts }" role="status">
          <b v-if="told.get(stage.id)?.hurts">{{ t('stations.procedure.stop') }}</b> {{ told.get(stage.id)?.comes }}
        </p>
        <button
          v-else-if="steps && !disabled"
          type="button"
          class="do"
          :disabled="busy || !done[stage.id]"
          @click="take(stage.id)"
        >
          {{ t('stations.procedure.do') }}
        </button>
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
.comes {
  margin: var(--space-2) 0 0;
  padding: var(--space-2) var(--space-3);
  border-left: 3px solid var(--edge);
  background: var(--surface);
}
.comes.hurts {
  border-left-color: var(--faulty);
}
.do {
  margin-top: var(--space-2);
  border: 1px solid var(--text);
  background: var(--field);
  color: var(--text);
  padding: 6px 14px;
  cursor: pointer;
}
.do:disabled {
  color: var(--text-soft);
  border-color: var(--edge);
  cursor: default;
}
input {
  accent-color: var(--accent);
}
</style>
