<script setup lang="ts">
import { ref, watch } from 'vue'

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
  }>(),
  { step: 1, settled: false },
)
const emit = defineEmits<{ slide: [value: number] }>()
const at = ref(props.value)
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
      :format-value-text="() => `${at} ${unit}`"
      @input="move"
      @change="let_go"
    />
    <span class="value">{{ at }} {{ unit }}</span>
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
