<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRouter } from 'vue-router'
import { day } from '@/format/dates'
import { client, sentence, unwrap } from '@/api/client'
import ProgressThread from '@/features/home/ProgressThread.vue'

const { t, locale } = useI18n()
const router = useRouter()
const problem = ref('')
const assignments = useQuery({
  queryKey: ['assignments'],
  queryFn: () => unwrap(client.GET('/api/assignments')),
  staleTime: 0,
})

async function open(id: number) {
  problem.value = ''
  try {
    const attempt = await unwrap(
      client.POST('/api/assignments/{assignment_id}/attempt', { params: { path: { assignment_id: id } } }),
    )
    await router.push({ name: 'player', params: { id: attempt.id } })
  } catch (error) {
    problem.value = sentence(error)
  }
}
</script>

<template>
  <div class="page">
    <h1>{{ t('home.learnerTitle') }}</h1>
    <p v-if="problem || assignments.error.value" role="alert">{{ problem || sentence(assignments.error.value) }}</p>
    <p v-if="assignments.data.value?.length === 0" class="soft">{{ t('home.learnerEmpty') }}</p>
    <article v-for="row in assignments.data.value" :key="row.id" class="assignment">
      <div class="words">
        <h2>{{ row.title }}</h2>
        <p class="soft">{{ row.goal }}</p>
        <ProgressThread :all="row.stations" :done="row.answered" />
        <p class="small soft">
          {{ t('home.progress', { answered: row.answered, stations: row.stations })
          }}<template v-if="row.finished_at"
            >, {{ t('home.finishedOn', { date: day(row.finished_at, locale) }) }}</template
          >
        </p>
      </div>
      <p v-if="row.finished_at && row.debrief_held" class="small soft">{{ t('home.debriefHeld') }}</p>
      <RouterLink
        v-else-if="row.finished_at && row.attempt"
        class="el-button"
        :to="{ name: 'debrief', params: { id: row.attempt } }"
      >
        {{ t('home.debrief') }}
      </RouterLink>
      <ElButton v-else type="primary" @click="open(row.id)">{{
        row.attempt ? t('home.goOn') : t('home.start')
      }}</ElButton>
    </article>
  </div>
</template>

<style scoped>
.assignment {
  display: flex;
  align-items: flex-start;
  justify-content: space-between;
  gap: var(--space-5);
  border-top: 1px solid var(--rule);
  padding: var(--space-4) 0;
}
.words {
  max-width: 68ch;
}
a.el-button {
  text-decoration: none;
}
</style>
