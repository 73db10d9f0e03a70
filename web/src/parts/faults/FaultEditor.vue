<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { POSITIONS, positionOf, sizeAt } from '@/parts/faults/size'

type Fault = Schemas['FaultSpec']
type Parameter = Schemas['ParameterOut']

/** One fault: kind and size. Sizes are physical, with the catalogue's small, medium and large as handles. */
const props = defineProps<{ fault: Fault; rig?: Rig }>()
const emit = defineEmits<{ change: [fault: Fault]; remove: [] }>()
const { t, tm } = useI18n()
const { catalogue, faultKinds } = useCatalogue()

const kind = computed(() => faultKinds.value.get(props.fault.kind))
const groups = computed(() => {
  const found = new Map<string, { id: string; label: string }[]>()
  for (const k of catalogue.value?.faults ?? []) {
    if (k.needs && props.rig && !props.rig.sensors.some((sensor) => sensor.id === k.needs)) continue
    found.set(k.group, [...(found.get(k.group) ?? []), k])
  }
  return [...found]
})

/** Circuits are offered only where the engine has them. */
function choicesOf(parameter: Parameter): string[] {
  const circuits = props.rig?.circuits
  return parameter.id === 'circuit' && circuits
    ? parameter.choices.filter((name) => circuits.includes(name))
    : parameter.choices
}

function middle(parameter: Parameter): number | string {
  return choicesOf(parameter)[0] ?? parameter.steps[Math.floor(parameter.steps.length / 2)] ?? parameter.low
}

function value(parameter: Parameter): number | string | undefined {
  return props.fault.params?.[parameter.id] ?? (parameter.optional ? undefined : middle(parameter))
}

function changeKind(id: string) {
  const next = faultKinds.value.get(id)
  if (!next) return
  const params = Object.fromEntries(next.parameters.filter((p) => !p.optional).map((p) => [p.id, middle(p)]))
  emit('change', { kind: id, params, onset: { mode: 'permanent' } })
}

function change(parameter: Parameter, next: number | string) {
  emit('change', { ...props.fault, params: { ...props.fault.params, [parameter.id]: next } })
}

function typed(parameter: Parameter, event: Event) {
  const input = event.target as HTMLInputElement
  const number = Number(input.value)
  if (input.value.trim() === '' || Number.isNaN(number)) return
  change(parameter, number)
}

function stepOf(parameter: Parameter): number {
  const span = parameter.high - parameter.low
  return 10 ** Math.floor(Math.log10(span / 100))
}

function inRange(parameter: Parameter): boolean {
  const number = Number(value(parameter))
  return number >= parameter.low && number <= parameter.high
}

const sizeNames = computed(() => tm('bench.sizes') as string[])
</script>

<template>
  <fieldset class="fault">
    <div class="kind">
      <select
        :value="fault.kind"
        :aria-label="t('bench.faults')"
        @change="changeKind(($event.target as HTMLSelectElement).value)"
      >
        <optgroup v-for="[group, entries] in groups" :key="group" :label="group.replaceAll('_', ' ')">
          <option v-for="entry in entries" :key="entry.id" :value="entry.id">{{ entry.label }}</option>
        </optgroup>
      </select>
      <button
        type="button"
        class="remove"
        :title="t('bench.removeFault')"
        :aria-label="t('bench.removeFault')"
        @click="emit('remove')"
      >
        ×
      </button>
    </div>
    <div v-for="parameter in kind?.parameters" :key="parameter.id" class="parameter">
      <template v-if="parameter.choices.length">
        <label class="label">
          {{ parameter.label }}
          <select :value="value(parameter)" @change="change(parameter, ($event.target as HTMLSelectElement).value)">
            <option v-for="choice in choicesOf(parameter)" :key="choice" :value="choice">
              {{ choice.replaceAll('_', ' ') }}
            </option>
          </select>
        </label>
      </template>
      <template v-else>
        <label class="label line">
          <span>{{ parameter.label }}</span>
          <span class="size">
            <input
              type="number"
              :value="value(parameter)"
              :min="parameter.low"
              :max="parameter.high"
              :step="stepOf(parameter)"
              :aria-invalid="value(parameter) !== undefined && !inRange(parameter)"
              @change="typed(parameter, $event)"
            />
            {{ parameter.unit === '-' ? '' : parameter.unit }}
          </span>
        </label>
        <ElSlider
          v-if="value(parameter) !== undefined"
          :model-value="positionOf(Number(value(parameter)), parameter)"
          :min="0"
          :max="POSITIONS"
          :format-value-text="() => `${value(parameter)} ${parameter.unit}`"
          :show-tooltip="false"
          :aria-label="parameter.label"
          @input="(next: number | number[]) => change(parameter, sizeAt(Number(next), parameter))"
        />
        <div class="sizes">
          <button
            v-for="(size, k) in parameter.steps"
            :key="k"
            type="button"
            class="small"
            :class="{ on: value(parameter) === size }"
            @click="change(parameter, size)"
          >
            {{ sizeNames[k] }} {{ size }}
          </button>
        </div>
      </template>
    </div>
    <p v-if="kind" class="small soft meaning">{{ kind.meaning }}</p>
  </fieldset>
</template>

<style scoped>
.fault {
  border: 0;
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: var(--space-2) 0;
  min-width: 0;
}
.kind {
  display: flex;
  gap: var(--space-1);
}
select,
input {
  border: 1px solid #b9b09d;
  background: var(--surface);
  padding: 4px 6px;
  font-size: 13px;
  min-width: 0;
}
.kind select {
  flex: 1;
  font-weight: 500;
}
.remove {
  border: 0;
  background: none;
  font-size: 16px;
  color: var(--text-soft);
  cursor: pointer;
}
.parameter {
  margin-top: var(--space-2);
  padding: 0 2px;
}
.parameter label select {
  display: block;
  width: 100%;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--space-2);
}
.size input {
  width: 72px;
  text-align: right;
}
.size input[aria-invalid='true'] {
  border: 2px solid var(--faulty);
}
.parameter :deep(.el-slider) {
  width: calc(100% - 16px);
  margin: 0 8px;
  height: 24px;
}
.sizes {
  display: flex;
  gap: 4px;
}
.sizes button {
  border: 1px solid var(--rule);
  background: none;
  color: var(--text-soft);
  cursor: pointer;
  padding: 1px 7px;
  font-size: 11px;
}
.sizes button.on {
  border-color: var(--text);
  color: var(--text);
}
.meaning {
  margin: 6px 0 0;
}
</style>
