<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { RouterLink, useRouter } from 'vue-router'
import { client, sentence, unwrap } from '@/api/client'
import { dayAndTime } from '@/format/dates'

/** The published versions of a lesson, and what has changed from one to another. */
const props = defineProps<{ id: string }>()
const { t, locale } = useI18n()
const router = useRouter()
const path = computed(() => ({ lesson_id: Number(props.id) }))
const lesson = useQuery({
  queryKey: ['lesson', path],
  queryFn: () => unwrap(client.GET('/api/lessons/{lesson_id}', { params: { path: path.value } })),
  staleTime: 0,
})
const versions = useQuery({
  queryKey: ['versions', path],
  queryFn: () => unwrap(client.GET('/api/lessons/{lesson_id}/versions', { params: { path: path.value } })),
  staleTime: 0,
})
/** What was chosen; else from the newest version to the draft. */
const chosen = ref<{ before?: number; after?: number }>({})
const before = computed(() => chosen.value.before ?? versions.data.value?.[0]?.number ?? 0)
const after = computed(() => chosen.value.after ?? 0)
const changes = useQuery({
  queryKey: ['changes', path, before, after, computed(() => lesson.data.value?.revision)],
  queryFn: () =>
    unwrap(
      client.GET('/api/lessons/{lesson_id}/changes', {
        params: { path: path.value, query: { before: before.value, after: after.value } },
      }),
    ),
  enabled: computed(() => before.value > 0),
})
const choices = computed(() => [
  { value: '0', label: t('versions.draft') },
  ...(versions.data.value ?? []).map(({ number }) => ({
    value: String(number),
    label: t('versions.number', { n: number }),
  })),
])
const takeBack = useMutation({
  mutationFn: async (number: number) => {
    const kept = await unwrap(
      client.GET('/api/lessons/{lesson_id}/versions/{number}', { params: { path: { ...path.value, number } } }),
    )
    return unwrap(
      client.PUT('/api/lessons/{lesson_id}/draft', {
        params: { path: path.value },
        body: { revision: lesson.data.value?.revision ?? 1, document: kept.document },
      }),
    )
  },
  onSuccess: () => router.push({ name: 'editor', params: { id: props.id } }),
})
const problem = computed(
  () => lesson.error.value ?? versions.error.value ?? changes.error.value ?? takeBack.error.value,
)
</script>

<template>
  <div class="page">
    <p class="soft line">{{ t('versions.title') }}</p>
    <h1>
      <RouterLink :to="{ name: 'editor', params: { id } }">{{ lesson.data.value?.draft.title }}</RouterLink>
    </h1>
    <p v-if="problem" role="alert">{{ sentence(problem) }}</p>
    <p v-if="versions.data.value?.length === 0">{{ t('home.notPublished') }}</p>
    <template v-else-if="versions.data.value">
      <table class="plain stacks">
        <thead>
          <tr>
            <th>{{ t('versions.one') }}</th>
            <th>{{ t('editor.title') }}</th>
            <th>{{ t('versions.when') }}</th>
            <th class="number">{{ t('home.assigned') }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in versions.data.value" :key="row.number">
            <td :data-label="t('versions.one')">{{ row.number }}</td>
            <td class="title">{{ row.title }}</td>
            <td class="soft" :data-label="t('versions.when')">
              {{ dayAndTime(row.published_at, locale) }}, {{ row.published_by }}
            </td>
            <td class="number" :data-label="t('home.assigned')">{{ row.assigned }}</td>
            <td class="number">
              <ElButton size="small" @click="takeBack.mutate(row.number)">{{ t('versions.takeBack') }}</ElButton>
            </td>
          </tr>
        </tbody>
      </table>
      <div class="choice">
        <div>
          <span class="label">{{ t('versions.before') }}</span>
          <ChooseOne
            :value="String(before)"
            :entries="choices.slice(1)"
            :label="t('versions.before')"
            @choose="(number) => (chosen = { ...chosen, before: Number(number) })"
          />
        </div>
        <div>
          <span class="label">{{ t('versions.after') }}</span>
          <ChooseOne
            :value="String(after)"
            :entries="choices"
            :label="t('versions.after')"
            @choose="(number) => (chosen = { ...chosen, after: Number(number) })"
          />
        </div>
      </div>
      <p v-if="changes.data.value?.length === 0" class="soft">{{ t('versions.same') }}</p>
      <section v-for="part in changes.data.value ?? []" :key="part.station + part.what" class="part">
        <h2>
          {{ part.station ? part.title : t('editor.lessonPart') }}
          <span class="small soft">
            <template v-if="part.kind">{{ t(`stations.${part.kind}.name`) }}, </template
            >{{ t(`versions.what.${part.what}`) }}
          </span>
        </h2>
        <dl v-for="entry in part.fields" :key="entry.field">
          <dt>{{ entry.called }}</dt>
          <dd>
            <del v-if="entry.before">{{ entry.before }}</del>
            <ins v-if="entry.after">{{ entry.after }}</ins>
          </dd>
        </dl>
      </section>
    </template>
  </div>
</template>

<style scoped>
.choice {
  display: flex;
  gap: var(--space-4);
  margin: var(--space-4) 0 var(--space-2);
}
select {
  display: block;
}
.choice .pick {
  width: 220px;
}
.part h2 {
  border-bottom: 1px solid var(--text);
  margin: var(--space-3) 0 0;
  padding-bottom: 2px;
}
dl {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  margin: 0;
  border-bottom: 1px solid var(--rule);
  padding: 5px 0;
}
dt {
  color: var(--text-soft);
}
dd {
  margin: 0;
  white-space: pre-wrap;
}
del,
ins {
  display: block;
  text-decoration: none;
  white-space: pre-line;
  padding-left: 18px;
  position: relative;
}
del {
  color: var(--text-soft);
}
del::before,
ins::before {
  position: absolute;
  left: 2px;
}
del::before {
  content: '−';
}
ins::before {
  content: '+';
}
</style>
