<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

/** What to mind. Where there is much, the first two stand open and the others wait. */
const props = defineProps<{ texts: string[] }>()
const { t } = useI18n()
const OPEN = 2
const first = computed(() => props.texts.slice(0, props.texts.length > OPEN + 1 ? OPEN : OPEN + 1))
const more = computed(() => props.texts.slice(first.value.length))
</script>

<template>
  <aside v-if="texts.length" class="caution small">
    <svg width="18" height="16" viewBox="0 0 18 16" aria-hidden="true">
      <path d="M9 1.2 17 15H1Z" fill="none" stroke="currentColor" stroke-width="1.6" stroke-linejoin="round" />
      <path d="M9 6v4.4M9 12v1.4" stroke="currentColor" stroke-width="1.6" />
    </svg>
    <span>
      <b>{{ t('bench.caution') }}.</b>
      {{ first.join(' ') }}
      <details v-if="more.length">
        <summary>{{ t('bench.moreCautions', { n: more.length }) }}</summary>
        <p v-for="text in more" :key="text">{{ text }}</p>
      </details>
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
details p {
  margin: 4px 0 0;
}
summary {
  cursor: pointer;
}
.caution svg {
  flex: none;
  margin-top: 1px;
}
</style>
