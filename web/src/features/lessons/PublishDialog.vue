<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { ApiError, client, newChangeId, sentence, unwrap, type Schemas } from '@/api/client'
import { longest } from '@/api/patience'

/** Make an immutable version and say who gets it. */
const props = defineProps<{ open: boolean; lesson: number; warnings: Schemas['WarningOut'][] }>()
const emit = defineEmits<{ close: []; published: [version: Schemas['VersionOut']] }>()
const { t } = useI18n()
const learners = useQuery({ queryKey: ['learners'], queryFn: () => unwrap(client.GET('/api/learners')) })
const chosen = ref<string[]>([])
const closed = ref(false)
const held = ref(false)
const problem = ref('')
const problems = ref<Schemas['StationProblem'][]>([])
const busy = ref(false)
/** One change, however often it has to be sent. */
let change = newChangeId()
const all = computed(() => (learners.data.value ?? []).map((l) => l.username))

watch(
  () => [props.open, all.value] as const,
  ([open]) => {
    if (!open) return
    chosen.value = [...all.value]
    problem.value = ''
    problems.value = []
    change = newChangeId()
  },
  { immediate: true },
)

async function publish() {
  busy.value = true
  problem.value = ''
  problems.value = []
  try {
    const version = await unwrap(
      client.POST('/api/lessons/{lesson_id}/publish', {
        params: { path: { lesson_id: props.lesson } },
        body: {
          learners: chosen.value,
          closed_book: closed.value,
          debrief_held: held.value,
          numbers_of: '',
        },
        headers: { 'X-Change-Id': change },
      }),
    )
    emit('published', version)
  } catch (error) {
    problem.value = sentence(error)
    if (error instanceof ApiError) problems.value = error.problems
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <ElDialog :model-value="open" :title="t('editor.publishTitle')" width="480" @close="emit('close')">
    <p>{{ t('editor.publishText') }}</p>
    <p v-if="warnings.length" class="warned">
      {{ t('editor.publishWarned', { n: warnings.length }, warnings.length) }}
    </p>
    <fieldset class="learners">
      <legend class="label">{{ t('editor.learners') }}</legend>
      <label v-for="learner in learners.data.value" :key="learner.username">
        <input v-model="chosen" type="checkbox" :value="learner.username" /> {{ learner.name }}
      </label>
      <p v-if="!all.length" class="soft">{{ t('editor.noLearners') }}</p>
    </fieldset>
    <fieldset class="learners">
      <label><input v-model="closed" type="checkbox" /> {{ t('editor.giving.closed') }}</label>
      <label><input v-model="held" type="checkbox" /> {{ t('editor.giving.held') }}</label>
    </fieldset>
    <p v-if="busy" class="soft small" role="status">{{ longest?.message ?? t('editor.trying') }}</p>
    <div v-if="problems.length" role="alert" class="problem">
      <p>{{ t('editor.unpublishable') }}</p>
      <ul>
        <li v-for="row in problems" :key="row.station">{{ row.text }}</li>
      </ul>
    </div>
    <p v-else-if="problem" role="alert" class="problem">{{ problem }}</p>
    <template #footer>
      <ElButton @click="emit('close')">{{ t('app.cancel') }}</ElButton>
      <ElButton type="primary" :loading="busy" @click="publish">{{ t('editor.publish') }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.learners {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.learners label {
  padding: 4px 0;
}
.learners input {
  accent-color: var(--accent);
}
.warned {
  color: var(--suspect);
}
.problem ul {
  margin: 0;
  padding-left: 18px;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
</style>
