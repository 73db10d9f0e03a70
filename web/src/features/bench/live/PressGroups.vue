<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { handsOn, type Found } from '@/features/bench/live/handsOn'
import type { Doing, Vehicle } from '@/features/bench/live/line'

/** Hoses, actuators and parts as buttons: a press clamps, holds or exchanges, another lets go. */
const props = defineProps<{ found: Found; vehicle: Vehicle }>()
const emit = defineEmits<{ act: [doing: Doing] }>()
const { t } = useI18n()
const groups = computed(() => handsOn(props.found, props.vehicle).filter((group) => group.entries.length))
</script>

<template>
  <template v-for="group in groups" :key="group.label">
    <p class="label">{{ t(`live.${group.label}`) }}</p>
    <div class="buttons" role="group" :aria-label="t(`live.${group.label}`)">
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
</template>

<style scoped>
.label {
  margin: var(--space-2) 0 0;
}
</style>
