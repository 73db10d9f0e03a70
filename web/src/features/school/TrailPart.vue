<script setup lang="ts">
import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'
import { dayAndTime } from '@/format/dates'

/** Who did what that others may ask about later. */
const { t, locale } = useI18n()
const PAGE = 100
const trail = useInfiniteQuery({
  queryKey: ['trail'],
  initialPageParam: undefined as number | undefined,
  queryFn: ({ pageParam }) => unwrap(client.GET('/api/audit', { params: { query: { before: pageParam } } })),
  getNextPageParam: (last) => (last.length < PAGE ? undefined : last[last.length - 1]?.id),
  staleTime: 0,
})
const rows = computed(() => trail.data.value?.pages.flat() ?? [])
</script>

<template>
  <p class="soft">{{ t('school.trail.lead') }}</p>
  <p v-if="trail.error.value" role="alert">{{ sentence(trail.error.value) }}</p>
  <table class="plain stacks">
    <thead>
      <tr>
        <th>{{ t('school.trail.when') }}</th>
        <th>{{ t('school.trail.who') }}</th>
        <th>{{ t('school.trail.what') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.id">
        <td class="when soft">{{ dayAndTime(row.at, locale) }}</td>
        <td class="who">{{ row.who }}</td>
        <td>{{ row.words }} {{ row.what }}</td>
      </tr>
    </tbody>
  </table>
  <ElButton
    v-if="trail.hasNextPage.value"
    class="more"
    :loading="trail.isFetching.value"
    @click="trail.fetchNextPage()"
    >{{ t('school.trail.more') }}</ElButton
  >
</template>

<style scoped>
.when {
  width: 150px;
  white-space: nowrap;
}
.who {
  width: 280px;
}
.more {
  margin-top: var(--space-3);
}
</style>
