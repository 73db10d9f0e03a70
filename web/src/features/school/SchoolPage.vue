<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, RouterView } from 'vue-router'
import { isLead, session } from '@/api/session'

/** What belongs to the school: its people, its rules, and the trail of what was done. */
const { t } = useI18n()
const parts = computed(() => (isLead.value ? ['people', 'rules', 'trail'] : ['rules']))
</script>

<template>
  <div class="page">
    <h1>{{ session?.school }}</h1>
    <nav class="parts" :aria-label="t('school.parts')">
      <RouterLink v-for="part in parts" :key="part" :to="{ name: `school-${part}` }">{{
        t(`school.${part}.title`)
      }}</RouterLink>
    </nav>
    <RouterView />
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  gap: var(--space-4);
  border-bottom: 1px solid var(--rule);
  margin-bottom: var(--space-4);
}
.parts a {
  color: var(--text-soft);
  text-decoration: none;
  padding: 6px 0;
  border-bottom: 2px solid transparent;
  margin-bottom: -1px;
}
.parts a.router-link-exact-active {
  color: var(--text);
  border-bottom-color: var(--accent);
}
</style>
