<script setup lang="ts">
import { useI18n } from 'vue-i18n'

defineProps<{ texts: string[] }>()
const { t } = useI18n()
</script>

<template>
  <aside v-if="texts.length" class="caution small">
    <svg width="18" height="16" viewBox="0 0 18 16" aria-hidden="true">
      <path d="M9 1.2 17 15H1Z" fill="none" stroke="currentColor" stroke-width="1.6" stroke-linejoin="round" />
      <path d="M9 6v4.4M9 12v1.4" stroke="currentColor" stroke-width="1.6" />
    </svg>
    <span>
      <b>{{ t('bench.caution') }}.</b>
      {{ texts.join(' ') }}
    </span>
  </aside>
</template>

<style scoped>
.caution {
  display: flex;
  gap: var(--space-2);
  align-items: flex-start;
  border: 1px solid var(--text);
  padding: 6px 10px;
  background: var(--surface-sunk);
}
.caution svg {
  flex: none;
  margin-top: 1px;
}
</style>
