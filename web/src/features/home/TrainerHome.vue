<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRouter } from 'vue-router'
import { dayAndTime } from '@/format/dates'
import { ApiError, client, sentence, unwrap, type Schemas } from '@/api/client'
import { firstLesson } from '@/features/home/firstLesson'

const { t, locale } = useI18n()
const router = useRouter()
const problem = ref('')
const lessons = useQuery({ queryKey: ['lessons'], queryFn: () => unwrap(client.GET('/api/lessons')), staleTime: 0 })

async function create() {
  problem.value = ''
  try {
    const made = await unwrap(client.POST('/api/lessons', { body: { document: firstLesson() } }))
    await router.push({ name: 'editor', params: { id: made.id } })
  } catch (error) {
    problem.value = sentence(error)
  }
}

const reasons = ref<string[]>([])
async function readPackage(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  problem.value = ''
  reasons.value = []
  try {
    const made = await unwrap(
      client.POST('/api/packages', {
        headers: { 'Content-Type': 'application/octet-stream' },
        body: file as never,
        bodySerializer: (body: unknown) => body as never,
      } as never),
    )
    await router.push({ name: 'editor', params: { id: (made as Schemas['LessonOut']).id } })
  } catch (error) {
    problem.value = sentence(error)
    if (error instanceof ApiError) reasons.value = error.problems.slice(1).map((entry) => entry.text)
  }
}
const away = ref(false)
const rows = computed(() => (lessons.data.value ?? []).filter((lesson) => lesson.archived === away.value))
const put = computed(() => (lessons.data.value ?? []).filter((lesson) => lesson.archived).length)
const queries = useQueryClient()
const archive = useMutation({
  mutationFn: (lesson: Schemas['LessonRow']) =>
    unwrap(
      client.PUT('/api/lessons/{lesson_id}/archived', {
        params: { path: { lesson_id: lesson.id } },
        body: { archived: !lesson.archived },
      }),
    ),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['lessons'] }),
})
const duplicate = useMutation({
  mutationFn: async (lesson: Schemas['LessonRow']) => {
    const found = await unwrap(client.GET('/api/lessons/{lesson_id}', { params: { path: { lesson_id: lesson.id } } }))
    const title = t('home.copyOf', { title: found.draft.title }).slice(0, 160)
    return unwrap(client.POST('/api/lessons', { body: { document: { ...found.draft, title } } }))
  },
  onSuccess: (made) => router.push({ name: 'editor', params: { id: made.id } }),
})
const failed = computed(() => lessons.error.value ?? archive.error.value ?? duplicate.error.value)

function when(date: string): string {
  return dayAndTime(date, locale.value)
}
</script>

<template>
  <div class="page">
    <div class="top">
      <div>
        <h1>{{ t('home.trainerTitle') }}</h1>
        <p class="soft">{{ t('home.trainerLead') }}</p>
      </div>
      <span class="new">
        <label class="el-button file">
          {{ t('home.readPackage') }}
          <input class="visually-hidden" type="file" accept=".json,application/json" @change="readPackage" />
        </label>
        <ElButton @click="create">{{ t('home.newLesson') }}</ElButton>
        <ElButton type="primary" @click="router.push({ name: 'plan' })">{{ t('propose.open') }}</ElButton>
      </span>
    </div>
    <div v-if="problem || failed" role="alert">
      <p>{{ problem || sentence(failed) }}</p>
      <ul v-if="reasons.length">
        <li v-for="reason in reasons" :key="reason">{{ reason }}</li>
      </ul>
    </div>
    <p v-if="lessons.data.value?.length === 0">{{ t('home.empty') }}</p>
    <table v-else-if="lessons.data.value" class="plain stacks">
      <thead>
        <tr>
          <th>{{ t('home.lesson') }}</th>
          <th>{{ t('home.draft') }}</th>
          <th>{{ t('home.version') }}</th>
          <th class="number">{{ t('home.assigned') }}</th>
          <th class="number">{{ t('home.finished') }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="lesson in rows" :key="lesson.id">
          <td class="title">
            <RouterLink :to="{ name: 'editor', params: { id: lesson.id } }">{{ lesson.title }}</RouterLink>
          </td>
          <td class="soft" :data-label="t('home.draft')">
            {{ t('home.updated', { date: when(lesson.updated_at), who: lesson.updated_by }) }}
          </td>
          <td :data-label="t('home.version')">
            <template v-if="lesson.version">
              {{ lesson.version }},
              <span :class="{ soft: !lesson.changed_since_version }">{{
                lesson.changed_since_version ? t('home.changed') : t('home.same')
              }}</span>
            </template>
            <span v-else class="soft">{{ t('home.notPublished') }}</span>
          </td>
          <td class="number" :data-label="t('home.assigned')">{{ lesson.assigned }}</td>
          <td class="number" :data-label="t('home.finished')">{{ lesson.finished }}</td>
          <td class="number acts">
            <RouterLink :to="{ name: 'results', params: { id: lesson.id } }">{{ t('home.results') }}</RouterLink>
            <button type="button" @click="duplicate.mutate(lesson)">{{ t('home.duplicate') }}</button>
            <button type="button" @click="archive.mutate(lesson)">
              {{ t(lesson.archived ? 'home.takeBack' : 'home.putAway') }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="put || away">
      <button type="button" class="link" @click="away = !away">
        {{ away ? t('home.showCurrent') : t('home.showAway', { n: put }) }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.acts {
  white-space: nowrap;
}
.acts button,
.link {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 0 0 0 var(--space-2);
}
.link {
  padding: 0;
}
.top {
  display: flex;
  justify-content: space-between;
  align-items: flex-start;
  margin-bottom: var(--space-3);
}
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  justify-content: flex-end;
}
.title {
  font-size: var(--text-lead);
  font-weight: 500;
}
</style>
