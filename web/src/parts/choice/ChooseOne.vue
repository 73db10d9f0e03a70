<script setup lang="ts">
import { computed, nextTick } from 'vue'
import type { Group } from '@/parts/choice/groups'
import PickOne from '@/parts/choice/PickOne.vue'

/** One of a list that may be short or long: a long one is found by typing. ``none`` says what no choice means, where
 * there may be none.
 */
const props = defineProps<{ value: string; entries: Group['entries']; label: string; none?: string }>()
const emit = defineEmits<{ choose: [value: string] }>()
/** As many are seen at a glance. */
const FEW = 10
/** What is shown is what holds, also where a choice is an act and holds nothing. */
function choose(event: Event) {
  const list = event.target as HTMLSelectElement
  emit('choose', list.value)
  nextTick(() => (list.value = props.value))
}
const groups = computed(() => [{ label: '', entries: props.entries }])
</script>

<template>
  <PickOne
    v-if="entries.length > FEW"
    :value="value"
    :groups="groups"
    :label="label"
    :prompt="none"
    :optional="none !== undefined"
    @choose="(next) => emit('choose', next)"
  />
  <select v-else :value="value" :aria-label="label" @change="choose">
    <option v-if="none !== undefined" value="">{{ none }}</option>
    <option v-for="entry in entries" :key="entry.value" :value="entry.value">{{ entry.label }}</option>
  </select>
</template>
