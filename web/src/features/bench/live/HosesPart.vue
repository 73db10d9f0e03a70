<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import { handsOn } from '@/features/bench/live/handsOn'
import type { Doing, Vehicle } from '@/features/bench/live/line'

/** All that can be clamped, held or exchanged on this engine. */
const props = defineProps<{ reach: Schemas['ReachOut']; vehicle: Vehicle }>()
const emit = defineEmits<{ act: [doing: Doing] }>()
const { t } = useI18n()

const groups = computed(() =>
  handsOn({ ...props.reach, parts: props.reach.parts.map((part) => part.name) }, props.vehicle),
)
</script>

<template>
  <details class="hoses">
    <summary>{{ t('live.hosesAndParts') }}</summary>
    <template v-for="group in groups" :key="group.label">
      <p class="label">{{ t(`live.${group.label}`) }}</p>
      <div class="chips" role="group" :aria-label="t(`live.${group.label}`)">
        <button
          v-for="entry in group.entries"
          :key="entry.name"
          type="button"
          :aria-pressed="entry.on"
          @click="emit('act', entry.doing)"
        >
          {{ entry.name }}
        </button>
      </div>
    </template>
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
.hoses .label {
  margin: var(--space-2) 0 3px;
}
.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.chips button {
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  padding: 1px 7px;
  font-size: 12px;
  cursor: pointer;
}
.chips button[aria-pressed='true'] {
  background: var(--surface-strong);
  border-color: var(--text);
  font-weight: 600;
}
</style>
