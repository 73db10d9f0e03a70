<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'
import { dayAndTime } from '@/format/dates'

/** Words for a colleague at a station of the draft, or (`station` empty) at the lesson as a whole. */
const props = defineProps<{ lesson: number; station: string }>()
const { t, locale } = useI18n()
const queries = useQueryClient()
const text = ref('')
const key = computed(() => ['comments', props.lesson])
const path = computed(() => ({ lesson_id: props.lesson }))
const all = useQuery({
  queryKey: key,
  queryFn: () => unwrap(client.GET('/api/lessons/{lesson_id}/comments', { params: { path: path.value } })),
})
const here = computed(() => (all.data.value ?? []).filter((comment) => comment.station === props.station))
const refresh = () => queries.invalidateQueries({ queryKey: key.value })
const add = useMutation({
  mutationFn: () =>
    unwrap(
      client.POST('/api/lessons/{lesson_id}/comments', {
        params: { path: path.value },
        body: { station: props.station, text: text.value },
      }),
    ),
  onSuccess: () => {
    text.value = ''
    void refresh()
  },
})
const settle = useMutation({
  mutationFn: (comment: { id: number; settled: boolean }) =>
    unwrap(
      client.PUT('/api/lessons/{lesson_id}/comments/{comment_id}', {
        params: { path: { ...path.value, comment_id: comment.id } },
        body: { settled: comment.settled },
      }),
    ),
  onSuccess: refresh,
})
const problem = computed(() => all.error.value ?? add.error.value ?? settle.error.value)
</script>

<template>
  <section class="comments" :aria-label="t('editor.comments')">
    <span class="label">{{ t('editor.comments') }}</span>
    <div v-for="comment in here" :key="comment.id" class="comment" :class="{ settled: comment.settled }">
      <p>{{ comment.text }}</p>
      <p class="small soft">
        {{ comment.author }}, {{ dayAndTime(comment.written_at, locale) }}
        <button type="button" @click="settle.mutate({ id: comment.id, settled: !comment.settled })">
          {{ t(comment.settled ? 'editor.reopen' : 'editor.settle') }}
        </button>
      </p>
    </div>
    <textarea
      v-model="text"
      rows="2"
      maxlength="2000"
      :aria-label="t('editor.comment')"
      :placeholder="t('editor.comment')"
    >
    </textarea>
    <button v-if="text.trim()" type="button" class="add" @click="add.mutate()">+ {{ t('editor.addComment') }}</button>
    <p v-if="problem" class="small" role="alert">{{ sentence(problem) }}</p>
  </section>
</template>

<style scoped>
.comments {
  display: flex;
  flex-direction: column;
  gap: 4px;
  margin-top: var(--space-4);
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
.comment {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.comment.settled {
  border-color: var(--rule);
  opacity: 0.7;
}
p {
  margin: 0;
}
.comment button {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 0 4px;
}
textarea {
  width: 100%;
}
.add {
  border: 1px solid var(--rule);
  background: var(--surface);
  color: var(--accent);
  cursor: pointer;
  padding: 4px 10px;
  text-align: left;
}
</style>
