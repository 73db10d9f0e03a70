<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import ChooseOne from '@/parts/choice/ChooseOne.vue'

/** A condition of these, by its name. */
const props = defineProps<{ value: string; conditions: readonly string[]; label: string; none?: string }>()
const emit = defineEmits<{ choose: [condition: string] }>()
const { conditions: named } = useCatalogue()
const entries = computed(() => props.conditions.map((id) => ({ value: id, label: named.value.get(id)?.label ?? id })))
</script>

<template>
  <ChooseOne :value="value" :entries="entries" :label="label" :none="none" @choose="(id) => emit('choose', id)" />
</template>
