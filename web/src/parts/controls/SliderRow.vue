<script setup lang="ts">
import { computed, ref, watch } from 'vue'

/** A number under the hand. `settled`: it is told when the hand lets go, else while it moves. */
const props = withDefaults(
  defineProps<{
    label: string
    value: number
    low: number
    high: number
    step?: number
    unit: string
    settled?: boolean
    /** The number as a person reads it, where its unit is theirs. */
    words?: (value: number) => string
  }>(),
  { step: 1, settled: false, words: undefined },
)
const emit = defineEmits<{ slide: [value: number] }>()
const at = ref(props.value)
const told = computed(() => props.words?.(at.value) ?? `${at.value} ${props.unit}`)
watch(
  () => props.value,
  (next) => (at.value = next),
)

function move(next: number | number[]) {
  at.value = Number(next)
  if (!props.settled) emit('slide', at.value)
}

function let_go(next: number | number[]) {
  if (props.settled) emit('slide', Number(next))
}
</script>

<template>
  <div class="row">
    <span class="label">{{ label }}</span>
    <ElSlider
      :model-value="at"
      :min="low"
      :max="high"
      :step="step"
      :show-tooltip="false"
      :aria-label="label"
      :format-value-text="() => told"
      @input="move"
      @change="let_go"
    />
    <span class="value">{{ told }}</span>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 5px 0;
}
.row > .label {
  flex: 0 0 36px;
}
.row :deep(.el-slider) {
  flex: 1;
  height: 24px;
}
.value {
  flex: 0 0 62px;
  text-align: right;
  font-size: 13px;
  white-space: nowrap;
}
</style>
