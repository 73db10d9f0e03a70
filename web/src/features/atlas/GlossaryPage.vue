<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRoute } from 'vue-router'
import { useGlossary } from '@/parts/terms/glossary'

/** Standard terms with the everyday words that map to them, found by either. */
const { t } = useI18n()
const route = useRoute()
const { terms } = useGlossary()
const words = ref(typeof route.query.term === 'string' ? route.query.term : '')
const found = computed(() => {
  const wanted = words.value.trim().toLowerCase()
  return terms.value
    .filter((term) => `${term.term} ${term.full} ${term.also.join(' ')}`.toLowerCase().includes(wanted))
    .sort((a, b) => a.term.localeCompare(b.term))
})
</script>

<template>
  <div class="page">
    <RouterLink class="small" :to="{ name: 'atlas' }">{{ t('atlas.title') }}</RouterLink>
    <h1>{{ t('atlas.glossary') }}</h1>
    <p class="soft">{{ t('atlas.glossaryLead') }}</p>
    <ElInput v-model="words" class="find" clearable :placeholder="t('atlas.find')" :aria-label="t('atlas.find')" />
    <dl v-if="found.length">
      <div v-for="term in found" :key="term.term">
        <dt>
          {{ term.term }} <span class="full">{{ term.full }}</span>
        </dt>
        <dd>
          {{ term.means }}
          <span v-if="term.also.length" class="small soft"
            >{{ t('atlas.also', { names: term.also.join(', ') }) }}.</span
          >
          <RouterLink v-if="term.page" class="small" :to="{ name: 'device', params: { id: term.page } }">{{
            t('atlas.toPage')
          }}</RouterLink>
        </dd>
      </div>
    </dl>
    <p v-else class="soft">{{ t('atlas.noTerm') }}</p>
  </div>
</template>

<style scoped>
.find {
  max-width: 320px;
  margin-bottom: var(--space-3);
}
dl {
  margin: 0;
  columns: 2 380px;
  column-gap: var(--space-5);
}
dl div {
  break-inside: avoid;
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
dt {
  font-weight: 600;
}
.full {
  font-weight: 400;
  color: var(--text-soft);
}
dd {
  margin: 0;
}
dd .small {
  display: block;
}
</style>
