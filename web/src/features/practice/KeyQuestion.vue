<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { session } from '@/api/session'

/** A learner questions the key of a station; a trainer lets it stand or grants the points, with a reason. */
const props = defineProps<{ attempt: number; station: number; dispute?: Schemas['DisputeOut'] }>()
const { t } = useI18n()
const queries = useQueryClient()
const learner = computed(() => session.value?.role === 'learner')
const asking = ref(false)
const text = ref('')
const refresh = () => {
  asking.value = false
  text.value = ''
  return queries.invalidateQueries({ queryKey: ['debrief'] })
}
const ask = useMutation({
  mutationFn: () =>
    unwrap(
      client.POST('/api/attempts/{attempt_id}/disputes/{index}', {
        params: { path: { attempt_id: props.attempt, index: props.station } },
        body: { text: text.value },
      }),
    ),
  onSuccess: refresh,
})
const settle = useMutation({
  mutationFn: (outcome: 'stands' | 'granted') =>
    unwrap(
      client.PUT('/api/disputes/{dispute_id}', {
        params: { path: { dispute_id: props.dispute?.id ?? 0 } },
        body: { outcome, answer: text.value },
      }),
    ),
  onSuccess: refresh,
})
const problem = computed(() => ask.error.value ?? settle.error.value)
</script>

<template>
  <div class="question">
    <template v-if="dispute">
      <p>
        <span class="label">{{ t('dispute.questioned', { who: dispute.learner }) }}</span> {{ dispute.text }}
      </p>
      <p v-if="dispute.answer">
        <span class="label">{{ t(`dispute.${dispute.outcome}`, { who: dispute.answered_by }) }}</span>
        {{ dispute.answer }}
      </p>
      <p v-else-if="learner" class="small soft">{{ t('dispute.waiting') }}</p>
    </template>
    <template v-if="learner && !dispute">
      <button v-if="!asking" type="button" class="link" @click="asking = true">{{ t('dispute.ask') }}</button>
      <template v-else>
        <textarea
          v-model="text"
          rows="2"
          maxlength="2000"
          :aria-label="t('dispute.why')"
          :placeholder="t('dispute.why')"
        >
        </textarea>
        <ElButton size="small" :disabled="!text.trim()" @click="ask.mutate()">{{ t('dispute.send') }}</ElButton>
      </template>
    </template>
    <template v-if="!learner && dispute && dispute.outcome === 'open'">
      <textarea
        v-model="text"
        rows="2"
        maxlength="2000"
        :aria-label="t('dispute.answer')"
        :placeholder="t('dispute.answer')"
      ></textarea>
      <ElButton size="small" :disabled="!text.trim()" @click="settle.mutate('stands')">{{
        t('dispute.letStand')
      }}</ElButton>
      <ElButton size="small" :disabled="!text.trim()" @click="settle.mutate('granted')">{{
        t('dispute.grant')
      }}</ElButton>
    </template>
    <p v-if="problem" class="small" role="alert">{{ sentence(problem) }}</p>
  </div>
</template>

<style scoped>
.question {
  margin-top: var(--space-2);
}
p {
  margin: 2px 0;
}
.label {
  margin-right: 6px;
}
.link {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 0;
  text-decoration: underline;
}
textarea {
  display: block;
  width: min(100%, 620px);
  margin-bottom: 4px;
}
</style>
