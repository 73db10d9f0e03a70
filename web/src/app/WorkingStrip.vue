<script setup lang="ts">
import { computed, onBeforeUnmount, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { longest } from '@/api/patience'

/** What the server is computing for this page, once that takes longer than a glance: how far it is, and a way to stop it. */
const { t } = useI18n()
const GLANCE = 1500
const now = ref(Date.now())
const clock = setInterval(() => (now.value = Date.now()), 250)
onBeforeUnmount(() => clearInterval(clock))
const shown = computed(() => (longest.value && now.value - longest.value.since > GLANCE ? longest.value : undefined))
</script>

<template>
  <div v-if="shown" class="strip" role="status">
    <progress :value="shown.share || undefined" max="1" :aria-label="shown.message"></progress>
    <span>{{ shown.message }}</span>
    <button type="button" @click="shown.stop()">{{ t('app.stop') }}</button>
  </div>
</template>

<style scoped>
.strip {
  position: fixed;
  right: var(--space-4);
  bottom: var(--space-4);
  z-index: 20;
  display: flex;
  align-items: center;
  gap: var(--space-3);
  max-width: calc(100vw - 2 * var(--space-4));
  padding: var(--space-2) var(--space-3);
  background: var(--surface-sunk);
  border: 1px solid var(--text-soft);
}
progress {
  width: 110px;
  height: 6px;
  accent-color: var(--accent);
}
button {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 0;
}
</style>
