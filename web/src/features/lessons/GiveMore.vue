<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { client, newChangeId, sentence, unwrap, type Schemas } from '@/api/client'

/** The last version for one more learner: with numbers of their own, or with those of somebody who has it. */
const props = defineProps<{ lesson: number; rows: Schemas['ResultRow'][] }>()
const { t } = useI18n()
const queries = useQueryClient()
const learners = useQuery({ queryKey: ['learners'], queryFn: () => unwrap(client.GET('/api/learners')) })
const last = computed(() => Math.max(0, ...props.rows.map((row) => row.version)))
const holders = computed(() => props.rows.filter((row) => row.version === last.value))
const without = computed(() =>
  (learners.data.value ?? []).filter((l) => !holders.value.some((row) => row.username === l.username)),
)
const who = ref('')
const as = ref('')
const closed = ref(false)
const held = ref(false)
const problem = ref('')

async function give() {
  problem.value = ''
  try {
    await unwrap(
      client.POST('/api/lessons/{lesson_id}/assign', {
        params: { path: { lesson_id: props.lesson } },
        body: { learners: [who.value], closed_book: closed.value, debrief_held: held.value, numbers_of: as.value },
        headers: { 'X-Change-Id': newChangeId() },
      }),
    )
    who.value = ''
    await queries.invalidateQueries({ queryKey: ['results'] })
  } catch (error) {
    problem.value = sentence(error)
  }
}
</script>

<template>
  <form v-if="last && without.length" class="give" @submit.prevent="give">
    <div>
      <span class="label">{{ t('results.giveTo') }}</span>
      <ChooseOne
        :value="who"
        :entries="without.map((one) => ({ value: one.username, label: one.name }))"
        :label="t('results.giveTo')"
        none=""
        @choose="(next) => (who = next)"
      />
    </div>
    <div>
      <span class="label">{{ t('results.numbers') }}</span>
      <ChooseOne
        :value="as"
        :entries="holders.map((row) => ({ value: row.username, label: t('results.numbersOf', { name: row.name }) }))"
        :label="t('results.numbers')"
        :none="t('results.ownNumbers')"
        @choose="(next) => (as = next)"
      />
    </div>
    <label class="tick"><input v-model="closed" type="checkbox" /> {{ t('editor.giving.closed') }}</label>
    <label class="tick"><input v-model="held" type="checkbox" /> {{ t('editor.giving.held') }}</label>
    <ElButton native-type="submit" :disabled="!who">{{ t('results.give') }}</ElButton>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
  </form>
</template>

<style scoped>
.give {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: var(--space-2) var(--space-4);
  margin-top: var(--space-4);
  padding-top: var(--space-3);
  border-top: 1px solid var(--rule);
}
.give .label {
  display: block;
}
.give .pick {
  width: 200px;
}
.tick {
  padding-bottom: 5px;
}
.problem {
  flex-basis: 100%;
  margin: 0;
}
</style>
