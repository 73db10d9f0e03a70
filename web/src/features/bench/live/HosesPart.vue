<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import type { Doing, Vehicle } from '@/features/bench/live/line'
import PressGroups from '@/features/bench/live/PressGroups.vue'

/** All that can be clamped, held or exchanged on this engine. */
const props = defineProps<{ reach: Schemas['ReachOut']; vehicle: Vehicle }>()
const emit = defineEmits<{ act: [doing: Doing] }>()
const { t } = useI18n()
const found = computed(() => ({ ...props.reach, parts: props.reach.parts.map((part) => part.name) }))
</script>

<template>
  <details class="hoses">
    <summary>{{ t('live.hosesAndParts') }}</summary>
    <PressGroups :found="found" :vehicle="vehicle" @act="(doing) => emit('act', doing)" />
  </details>
</template>

<style scoped>
.hoses {
  border-top: 1px solid var(--rule);
  margin-top: var(--space-2);
  padding-top: var(--space-2);
}
.hoses summary {
  cursor: pointer;
}
</style>
