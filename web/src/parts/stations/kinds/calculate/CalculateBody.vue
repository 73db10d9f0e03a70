<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import FormulaText from '@/parts/prose/FormulaText.vue'
import type { BodyProps } from '@/parts/stations/kind'

/** The numbers that go in, and a field for the result of each line. */
const props = defineProps<BodyProps<'calculate'>>()
const emit = defineEmits<{ change: [answer: Schemas['CalculateAnswer']] }>()
const { t } = useI18n()
function typed(symbol: string, event: Event) {
  const steps = { ...props.answer.steps, [symbol]: (event.target as HTMLInputElement).value }
  emit('change', { ...props.answer, steps })
}
</script>

<template>
  <div>
    <h3>{{ view.working }}</h3>
    <span class="label">{{ t('stations.calculate.given') }}</span>
    <table class="plain given">
      <tbody>
        <tr v-for="entry in view.given" :key="entry.symbol">
          <td><FormulaText :tex="entry.tex" /></td>
          <td>{{ entry.label }}</td>
          <td class="number">
            <b>{{ entry.value }}</b>
          </td>
        </tr>
      </tbody>
    </table>
    <span class="label">{{ t('stations.calculate.steps') }}</span>
    <ol>
      <li v-for="step in view.steps" :key="step.symbol">
        <label :for="`${name}-${step.symbol}`">{{ step.label }}</label>
        <span class="line">
          <FormulaText :tex="step.formula ? `${step.tex} = ${step.formula} =` : `${step.tex} =`" />
          <input
            :id="`${name}-${step.symbol}`"
            autocomplete="off"
            :value="answer.steps?.[step.symbol] ?? ''"
            :disabled="disabled"
            :aria-label="`${step.label}, ${t('stations.calculate.line')}`"
            @input="typed(step.symbol, $event)"
          />
        </span>
      </li>
    </ol>
    <p class="small soft">{{ t('stations.calculate.leftOut') }}</p>
  </div>
</template>

<style scoped>
.given {
  width: auto;
  margin-bottom: var(--space-3);
}
.given td {
  padding: 2px 10px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--text);
}
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px var(--space-4);
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
li > label {
  flex: 1 1 260px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
input {
  width: 150px;
  border: 1px solid var(--text-soft);
  background: var(--field);
  color: var(--text);
  padding: 5px 8px;
  font-size: 15px;
}
</style>
