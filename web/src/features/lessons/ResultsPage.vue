<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { day } from '@/format/dates'
import { client, newChangeId, sentence, unwrap, type Schemas } from '@/api/client'
import GiveMore from '@/features/lessons/GiveMore.vue'

/** Who is how far with a lesson, and two weaknesses kept apart: faults missed, good readings condemned. */
const props = defineProps<{ id: string }>()
const { t, locale } = useI18n()
const path = computed(() => ({ lesson_id: Number(props.id) }))
const lesson = useQuery({
  queryKey: ['lesson', path],
  queryFn: () => unwrap(client.GET('/api/lessons/{lesson_id}', { params: { path: path.value } })),
})
const results = useQuery({
  queryKey: ['results', path],
  queryFn: () => unwrap(client.GET('/api/lessons/{lesson_id}/results', { params: { path: path.value } })),
  staleTime: 0,
})

const disputes = useQuery({
  queryKey: ['disputes', path],
  queryFn: () => unwrap(client.GET('/api/lessons/{lesson_id}/disputes', { params: { path: path.value } })),
  staleTime: 0,
})

/** A column per marked station, from whoever has finished; the title tells which station it is. */
const columns = computed(() => results.data.value?.find((row) => row.points.length)?.points ?? [])

const held = computed(() => results.data.value?.filter((row) => row.debrief_held).length ?? 0)
async function openDebriefs() {
  await unwrap(
    client.POST('/api/lessons/{lesson_id}/debriefs', {
      params: { path: path.value },
      headers: { 'X-Change-Id': newChangeId() },
    }),
  )
  await results.refetch()
}

function percent(row: Schemas['ResultRow'], index: number): string {
  const found = row.points.find((p) => p.index === index)
  return found ? `${Math.round(100 * found.points)} %` : '–'
}

function progress(row: Schemas['ResultRow']): string {
  if (row.finished_at) return t('results.finished', { date: day(row.finished_at, locale.value) })
  return row.attempt ? t('results.inWork', { answered: row.answered, stations: row.stations }) : t('results.notStarted')
}
</script>

<template>
  <div class="page">
    <p class="soft line">{{ t('results.title') }}</p>
    <h1>
      <RouterLink :to="{ name: 'editor', params: { id } }">{{ lesson.data.value?.draft.title }}</RouterLink>
    </h1>
    <p v-if="results.error.value" role="alert">{{ sentence(results.error.value) }}</p>
    <p v-else-if="results.data.value?.length === 0">{{ t('results.empty') }}</p>
    <table v-else-if="results.data.value" class="plain stacks">
      <thead>
        <tr>
          <th>{{ t('results.learner') }}</th>
          <th>{{ t('results.version') }}</th>
          <th>{{ t('results.progress') }}</th>
          <th v-for="column in columns" :key="column.index" class="number" :title="column.title">
            {{ t(`stations.${column.kind}.name`) }}
          </th>
          <th class="number">{{ t('results.score') }}</th>
          <th class="number" :title="t('results.missedHint')">{{ t('results.missed') }}</th>
          <th class="number" :title="t('results.condemnedHint')">{{ t('results.condemned') }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in results.data.value" :key="`${row.username}-${row.version}`">
          <td class="name">{{ row.name }}</td>
          <td :data-label="t('results.version')">{{ row.version }}</td>
          <td :class="{ soft: !row.attempt }" :data-label="t('results.progress')">
            {{ progress(row) }}<span v-if="row.closed_book" class="small soft">, {{ t('results.closed') }}</span
            ><span v-if="row.debrief_held" class="small soft">, {{ t('results.held') }}</span>
          </td>
          <td
            v-for="column in columns"
            :key="column.index"
            class="number"
            :data-label="t(`stations.${column.kind}.name`)"
          >
            {{ percent(row, column.index) }}
          </td>
          <td class="number" :data-label="t('results.score')">
            {{ row.score === null ? '–' : `${Math.round(row.score)} %` }}
          </td>
          <td class="number" :data-label="t('results.missed')">{{ row.missed ?? '–' }}</td>
          <td class="number" :data-label="t('results.condemned')">{{ row.condemned ?? '–' }}</td>
          <td class="number">
            <RouterLink v-if="row.finished_at && row.attempt" :to="{ name: 'debrief', params: { id: row.attempt } }">{{
              t('results.open')
            }}</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="held" class="note">
      <ElButton @click="openDebriefs">{{ t('results.openHeld', { n: held }, held) }}</ElButton>
    </p>
    <p class="small soft note">{{ t('results.explain') }}</p>
    <GiveMore v-if="results.data.value" :lesson="Number(id)" :rows="results.data.value" />
    <section v-if="disputes.data.value?.length" :aria-label="t('dispute.title')">
      <h2>{{ t('dispute.title') }}</h2>
      <p v-for="entry in disputes.data.value" :key="entry.id" class="dispute">
        <RouterLink :to="{ name: 'debrief', params: { id: entry.attempt } }">{{ entry.title }}</RouterLink>
        <span class="soft">&nbsp;{{ entry.learner }}: </span>{{ entry.text }}
        <b v-if="entry.outcome === 'open'">{{ t('dispute.openStill') }}</b>
        <span v-else class="soft"
          >{{ t(`dispute.${entry.outcome}`, { who: entry.answered_by }) }} {{ entry.answer }}</span
        >
      </p>
    </section>
  </div>
</template>

<style scoped>
.dispute {
  border-top: 1px solid var(--rule);
  margin: 0;
  padding: 6px 0;
}
.line {
  margin: 0;
}
h1 a {
  color: inherit;
  text-decoration: none;
}
.name {
  font-weight: 500;
}
.note {
  margin-top: var(--space-3);
}
</style>
