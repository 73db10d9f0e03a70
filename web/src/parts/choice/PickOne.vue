<script setup lang="ts">
import type { Group } from '@/parts/choice/groups'

/** One of many, found by typing: grouped, with everything that a select does by keyboard, touch and screen reader. */
defineProps<{ value: string; groups: Group[]; label: string; prompt?: string; optional?: boolean }>()
const emit = defineEmits<{ choose: [value: string] }>()
</script>

<template>
  <el-select
    :model-value="value || undefined"
    :placeholder="prompt ?? label"
    :aria-label="label"
    class="pick"
    filterable
    :clearable="optional"
    :fit-input-width="false"
    @update:model-value="(next?: string) => (next || optional) && emit('choose', next ?? '')"
  >
    <el-option-group v-for="group in groups" :key="group.label" :label="group.label">
      <el-option v-for="entry in group.entries" :key="entry.value" :value="entry.value" :label="entry.label" />
    </el-option-group>
  </el-select>
</template>

<style scoped>
.pick {
  width: 100%;
  min-width: 0;
}
.pick :deep(.el-select__wrapper) {
  min-height: 30px;
  padding: 2px 8px;
  gap: 4px;
}
</style>
