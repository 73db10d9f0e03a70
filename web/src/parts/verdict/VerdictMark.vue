<script setup lang="ts">
import { useI18n } from 'vue-i18n'

/** A verdict: word, shape and colour together, the same everywhere. */
defineProps<{ kind: string; bare?: boolean }>()
const { t } = useI18n()
</script>

<template>
  <span class="verdict" :class="kind">
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
      <circle v-if="kind === 'good'" cx="7" cy="7" r="5" fill="currentColor" />
      <g v-else-if="kind === 'suspect'">
        <path d="M7 1 13 7 7 13 1 7Z" fill="none" stroke="currentColor" stroke-width="1.4" />
        <path d="M7 1 7 13 1 7Z" fill="currentColor" />
      </g>
      <g v-else-if="kind === 'faulty'" stroke="currentColor" fill="none">
        <rect x="1.7" y="1.7" width="10.6" height="10.6" stroke-width="1.6" />
        <path d="M2 7 7 2M2 12 12 2M7 12 12 7M2 7 7 12M2 2 12 12M7 2 12 7" stroke-width="0.9" />
      </g>
      <g v-else-if="kind === 'outside'" fill="none" stroke="currentColor" stroke-width="1.4">
        <circle cx="7" cy="7" r="4.3" />
        <path d="M12.3 3.2V10.8" />
      </g>
      <path
        v-else
        d="M9.8 2.9A5 5 0 1 1 4.2 2.9"
        fill="none"
        stroke="currentColor"
        stroke-width="1.8"
        stroke-linecap="butt"
      />
    </svg>
    <span :class="{ 'visually-hidden': bare }">{{ t(`verdict.${kind}`) }}</span>
  </span>
</template>

<style scoped>
.verdict {
  display: inline-flex;
  align-items: baseline;
  gap: 5px;
  white-space: nowrap;
  font-weight: 500;
}
.verdict svg {
  flex: none;
  align-self: center;
}
.good {
  color: var(--good);
}
.suspect {
  color: var(--suspect);
}
.faulty {
  color: var(--faulty);
}
.outside {
  color: var(--text-soft);
}
.not_decidable {
  color: var(--not-decidable);
}
</style>
