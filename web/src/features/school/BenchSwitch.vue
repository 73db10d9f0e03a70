<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { useChanging } from '@/api/changing'
import { client, unwrap } from '@/api/client'
import { isLead } from '@/api/session'

/** Whether learners may have benches of their own. */
const { t } = useI18n()
const queries = useQueryClient()
const { change, problem, busy } = useChanging('school')
const school = useQuery({ queryKey: ['school'], queryFn: () => unwrap(client.GET('/api/school')) })

const turn = (event: Event) =>
  change(async () => {
    const open = (event.target as HTMLInputElement).checked
    queries.setQueryData(['school'], await unwrap(client.PATCH('/api/school', { body: { learners_bench: open } })))
    return ''
  })
</script>

<template>
  <p v-if="school.data.value" class="switch">
    <label>
      <input type="checkbox" :checked="school.data.value.learners_bench" :disabled="!isLead || busy" @change="turn" />
      {{ t('school.learnersBench') }}
    </label>
    <span class="small soft">{{ t('school.learnersBenchMeans') }}</span>
    <span v-if="problem" role="alert">{{ problem }}</span>
  </p>
</template>

<style scoped>
.switch {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px var(--space-3);
  padding-bottom: var(--space-3);
  border-bottom: 1px solid var(--rule);
}
</style>
