<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'

/** The lesson as a package file; worksheet, key and questions for the learner's car that is looked at. */
const props = defineProps<{ lesson: number; seed: number }>()
const { t } = useI18n()
const PAPERS = ['worksheet', 'key', 'questions'] as const
const ENDINGS = { worksheet: 'pdf', key: 'pdf', questions: 'gift.txt' }

function save(content: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
const fetchPaper = useMutation({
  mutationFn: async (what: (typeof PAPERS)[number]) => {
    const content = await unwrap(
      client.GET('/api/lessons/{lesson_id}/paper/{what}', {
        params: { path: { lesson_id: props.lesson, what }, query: { seed: props.seed } },
        parseAs: 'blob',
      } as never) as never,
    )
    save(content as Blob, `lesson-${props.lesson}-${props.seed}-${what}.${ENDINGS[what]}`)
  },
})
</script>

<template>
  <section class="along" :aria-label="t('editor.along')">
    <span class="label">{{ t('editor.along') }}</span>
    <p class="small soft">{{ seed ? t('editor.alongSeed', { n: seed }) : t('editor.alongTrainer') }}</p>
    <p class="links">
      <a :href="`/api/lessons/${lesson}/package`" download>{{ t('editor.package') }}</a>
      <button v-for="what in PAPERS" :key="what" type="button" @click="fetchPaper.mutate(what)">
        {{ t(`editor.paper.${what}`) }}
      </button>
    </p>
    <p v-if="fetchPaper.error.value" class="small" role="alert">{{ sentence(fetchPaper.error.value) }}</p>
  </section>
</template>

<style scoped>
.along {
  margin-top: var(--space-4);
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
p {
  margin: 2px 0;
}
.links {
  display: flex;
  flex-wrap: wrap;
  gap: 4px var(--space-3);
}
.links button {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 0;
  text-decoration: underline;
}
</style>
