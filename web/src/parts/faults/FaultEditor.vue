<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { useCatalogue, type Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { useFaultGroups } from '@/parts/faults/groups'
import { choicesOf, fresh, middle, sized } from '@/parts/faults/fresh'
import PickOne from '@/parts/choice/PickOne.vue'
import { POSITIONS, positionOf, sizeAt, stepName } from '@/parts/faults/size'

type Fault = Schemas['FaultSpec']
type Parameter = Schemas['ParameterOut']

/** One fault: kind and size. Sizes are physical, with the catalogue's small, medium and large as handles. */
const props = defineProps<{ fault: Fault; rig?: Rig }>()
const emit = defineEmits<{ change: [fault: Fault]; remove: [] }>()
const { t, tm } = useI18n()
const { catalogue, faultKinds } = useCatalogue()

const kind = computed(() => faultKinds.value.get(props.fault.kind))
const groups = useFaultGroups(() => props.rig)

/** What may be left out and has only one answer on this engine is no question. */
const parameters = computed(() =>
  (kind.value?.parameters ?? [])
    .filter((p) => !(p.optional && p.choices.length && choicesOf(props.rig, props.fault.kind, p).length < 2))
    .map((p) => sized(p, props.fault.params)),
)
const onset = computed(() =>
  catalogue.value?.onsets.find((mode) => mode.id === (props.fault.onset?.mode ?? 'permanent')),
)

function changeOnset(id: string) {
  const mode = catalogue.value?.onsets.find((entry) => entry.id === id)
  if (!mode) return
  const numbers = Object.fromEntries(mode.numbers.map((n) => [n.id, n.start]))
  emit('change', { ...props.fault, onset: { mode: id, ...numbers } as Fault['onset'] })
}

function onsetNumber(id: string): number | undefined {
  return props.fault.onset?.[id as 'on_s'] ?? undefined
}

function typedOnset(number: { id: string; low: number; high: number }, event: Event) {
  const text = (event.target as HTMLInputElement).value
  const value = Number(text)
  if (text.trim() === '' || Number.isNaN(value) || value < number.low || value > number.high) return
  emit('change', { ...props.fault, onset: { ...props.fault.onset, [number.id]: value } as Fault['onset'] })
}

const entryOf = (parameter: Parameter, choice: string) => ({ value: choice, label: parameter.called[choice] ?? choice })

function value(parameter: Parameter): number | string | undefined {
  return (
    props.fault.params?.[parameter.id] ??
    (parameter.optional ? undefined : middle(props.rig, props.fault.kind, parameter))
  )
}

function changeKind(id: string) {
  const next = faultKinds.value.get(id)
  if (!next) return
  emit('change', { kind: id, params: fresh(props.rig, next), onset: { mode: 'permanent' } })
}

function change(parameter: Parameter, next: number | string) {
  const params = { ...props.fault.params, [parameter.id]: next }
  // Another sensor or part has other sizes: they start from the middle.
  for (const other of kind.value?.parameters ?? [])
    if (other.depends_on === parameter.id) params[other.id] = middle(props.rig, props.fault.kind, sized(other, params))
  emit('change', { ...props.fault, params })
}

function typed(parameter: Parameter, event: Event) {
  const input = event.target as HTMLInputElement
  const number = Number(input.value)
  if (input.value.trim() === '' || Number.isNaN(number)) return
  change(parameter, number)
}

function unitOf(parameter: Parameter): string {
  return parameter.unit === '-' ? '' : parameter.unit
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
      <PickOne :value="fault.kind" :groups="groups" :label="t('bench.faults')" @choose="changeKind" />
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
    <div v-for="parameter in parameters" :key="parameter.id" class="parameter">
      <template v-if="parameter.choices.length">
        <div class="label">
          {{ parameter.label }}
          <ChooseOne
            :value="String(value(parameter))"
            :entries="choicesOf(rig, fault.kind, parameter).map((choice) => entryOf(parameter, choice))"
            :label="parameter.label"
            @choose="(next) => change(parameter, next)"
          />
        </div>
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
            {{ unitOf(parameter) }}
          </span>
        </label>
        <ElSlider
          v-if="value(parameter) !== undefined"
          :model-value="positionOf(Number(value(parameter)), parameter)"
          :min="0"
          :max="POSITIONS"
          :format-value-text="() => `${value(parameter)} ${unitOf(parameter)}`.trim()"
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
            {{ stepName(parameter.steps, k, sizeNames) }}
          </button>
        </div>
      </template>
    </div>
    <div v-if="onset" class="parameter">
      <label class="label">
        {{ t('bench.onset') }}
        <select :value="onset.id" class="onset" @change="changeOnset(($event.target as HTMLSelectElement).value)">
          <option v-for="mode in catalogue?.onsets ?? []" :key="mode.id" :value="mode.id">{{ mode.label }}</option>
        </select>
      </label>
      <label v-for="number in onset.numbers" :key="number.id" class="label line">
        <span>{{ number.label }}</span>
        <span class="size">
          <input
            type="number"
            :value="onsetNumber(number.id)"
            :min="number.low"
            :max="number.high"
            step="any"
            @change="typedOnset(number, $event)"
          />
          {{ number.unit }}
        </span>
      </label>
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
.parameter .label > select {
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
