<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRouter } from 'vue-router'
import { dayAndTime } from '@/format/dates'
import { client, sentence, unwrap } from '@/api/client'
import ProposeDialog from '@/features/home/ProposeDialog.vue'
import { firstLesson } from '@/features/home/firstLesson'

const { t, locale } = useI18n()
const router = useRouter()
const problem = ref('')
const proposing = ref(false)
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
        <ElButton @click="create">{{ t('home.newLesson') }}</ElButton>
        <ElButton type="primary" @click="proposing = true">{{ t('propose.open') }}</ElButton>
      </span>
    </div>
    <ProposeDialog v-model="proposing" />
    <p v-if="problem || lessons.error.value" role="alert">{{ problem || sentence(lessons.error.value) }}</p>
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
        <tr v-for="lesson in lessons.data.value" :key="lesson.id">
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
          <td class="number">
            <RouterLink :to="{ name: 'results', params: { id: lesson.id } }">{{ t('home.results') }}</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
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
