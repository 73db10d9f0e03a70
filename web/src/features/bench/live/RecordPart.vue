<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ElMessage } from 'element-plus'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { client, newChangeId, sentence, unwrap, type Schemas } from '@/api/client'
import { makesLessons } from '@/api/session'
import type { Ghost } from '@/features/bench/live/ghost'
import { FRAME } from '@/features/bench/live/series'
import { day } from '@/format/dates'

/** What is kept: stretches of benches and files from elsewhere; each can be given away and laid over what runs. */
const props = defineProps<{
  bench: number
  rig: string
  channels: string[]
  lanes: string[]
  /** What is in view, and where time stands. [s] */
  view: () => [number, number]
  seconds: () => number
  ghost?: Ghost
}>()
const emit = defineEmits<{ lay: [ghost: Ghost | undefined] }>()
const { t, locale } = useI18n()
const queries = useQueryClient()

const list = useQuery({ queryKey: ['recordings'], queryFn: () => unwrap(client.GET('/api/recordings')) })
const name = ref('')
const problem = ref('')

function done(fresh?: Schemas['RecordingRow'][]) {
  problem.value = ''
  name.value = ''
  if (fresh) queries.setQueryData(['recordings'], fresh)
  else queries.invalidateQueries({ queryKey: ['recordings'] })
}
const failed = (error: unknown) => (problem.value = sentence(error))

function frames(from: number, to: number) {
  const most = Math.floor(props.seconds() / FRAME)
  return { first: Math.max(Math.floor(from / FRAME), 0), last: Math.min(Math.floor(to / FRAME), most) }
}

/** Repeats while it is computed are the same wish: one id for all of them. */
const keep = useMutation({
  mutationFn: ([from, to]: [number, number]) =>
    unwrap(
      client.POST('/api/benches/{bench_id}/record', {
        params: { path: { bench_id: props.bench } },
        headers: { 'X-Change-Id': newChangeId() },
        body: {
          name: name.value.trim() || t('live.record.unnamed'),
          ...frames(from, to),
          channels: props.channels,
        },
      }),
    ),
  onSuccess: () => done(),
  onError: failed,
})
const remove = useMutation({
  mutationFn: (id: number) =>
    unwrap(client.DELETE('/api/recordings/{recording_id}', { params: { path: { recording_id: id } } })),
  onSuccess: (left) => done(left),
  onError: failed,
})
const upload = useMutation({
  mutationFn: (file: File) =>
    unwrap(
      client.POST('/api/recordings', {
        params: { query: { name: file.name.slice(0, 120), rig: props.rig } },
        headers: { 'X-Change-Id': newChangeId(), 'Content-Type': 'application/octet-stream' },
        body: file as never,
        bodySerializer: (body: unknown) => body as never,
      } as never),
    ),
  onSuccess: () => done(),
  onError: failed,
})
const lay = useMutation({
  mutationFn: async (recording: Schemas['RecordingRow']) => {
    const path = { recording_id: recording.id }
    const found = await unwrap(client.GET('/api/recordings/{recording_id}/lanes', { params: { path } }))
    const first = found.time[0] ?? 0
    return {
      id: recording.id,
      name: recording.name,
      offset: props.view()[1] >= props.seconds() ? props.seconds() : props.view()[0],
      time: found.time.map((at) => at - first),
      lanes: found.lanes,
    }
  },
  onSuccess: (ghost) => emit('lay', ghost),
  onError: failed,
})
/** What is in view as the drive of a new lesson, opened in the editor. */
const router = useRouter()
const teach = useMutation({
  mutationFn: async ([from, to]: [number, number]) => {
    const body = { bench: props.bench, name: name.value.trim() || t('live.record.drive'), ...frames(from, to) }
    const made = await unwrap(client.POST('/api/lessons/from-bench', { body: { ...body, channels: props.lanes } }))
    if (made.left_out.length) ElMessage(t('live.record.leftOut', { what: made.left_out.join(', ') }))
    return unwrap(client.POST('/api/lessons', { body: { document: made.document as never } }))
  },
  onSuccess: (lesson) => router.push({ name: 'editor', params: { id: lesson.id } }),
  onError: failed,
})
const busy = computed(() => keep.isPending.value || upload.isPending.value || teach.isPending.value)

function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) upload.mutate(file)
  input.value = ''
}
</script>

<template>
  <details class="records">
    <summary>{{ t('live.record.title') }}</summary>
    <input v-model="name" type="text" maxlength="120" :placeholder="t('live.record.name')" />
    <div class="buttons">
      <button type="button" :disabled="busy" @click="keep.mutate([seconds() - 60, seconds()])">
        {{ t('live.record.minute') }}
      </button>
      <button type="button" :disabled="busy" @click="keep.mutate(view())">{{ t('live.record.view') }}</button>
      <button v-if="makesLessons" type="button" :disabled="busy" @click="teach.mutate(view())">
        {{ t('live.record.teach') }}
      </button>
      <label class="file">
        {{ t('live.record.read') }}
        <input class="visually-hidden" type="file" accept=".csv,.mf4,.mdf" @change="chosen" />
      </label>
    </div>
    <p v-if="busy" class="small soft" role="status">{{ t('bench.running') }}</p>
    <p v-if="problem" class="problem small" role="alert">{{ problem }}</p>
    <ul class="small">
      <li v-for="recording in list.data.value" :key="recording.id">
        <b>{{ recording.name }}</b>
        <span class="soft">{{
          t('live.record.row', {
            seconds: recording.seconds.toFixed(0),
            rig: recording.rig,
            date: day(recording.made_at, locale),
          })
        }}</span>
        <span class="acts">
          <a :href="`/api/recordings/${recording.id}/file?format=csv`" download>CSV</a>
          <a :href="`/api/recordings/${recording.id}/file?format=mf4`" download>MDF 4</a>
          <button
            type="button"
            :aria-pressed="ghost?.id === recording.id"
            @click="ghost?.id === recording.id ? emit('lay', undefined) : lay.mutate(recording)"
          >
            {{ t(ghost?.id === recording.id ? 'live.record.takeOff' : 'live.record.lay') }}
          </button>
          <button
            type="button"
            :aria-label="t('live.record.delete', { name: recording.name })"
            @click="remove.mutate(recording.id)"
          >
            ×
          </button>
        </span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.records {
  border-top: 1px solid var(--rule);
  margin-top: var(--space-2);
  padding-top: var(--space-2);
}
summary {
  cursor: pointer;
}
input[type='text'] {
  width: 100%;
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  padding: 4px 6px;
  margin-top: 6px;
}
.buttons button,
.file {
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  padding: 2px 8px;
  font-size: 12px;
  cursor: pointer;
}
.file:focus-within {
  outline: 2px solid var(--accent);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
li b,
li .soft {
  display: block;
}
.acts {
  display: flex;
  gap: var(--space-2);
  align-items: baseline;
}
.acts button {
  border: 0;
  background: none;
  color: var(--accent);
  padding: 0;
  cursor: pointer;
}
.acts button[aria-pressed='true'] {
  font-weight: 600;
  text-decoration: underline;
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
</style>
