<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, provide, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink, useRouter } from 'vue-router'
import { client, newChangeId, sentence, unwrap } from '@/api/client'
import CautionNote from '@/parts/prose/CautionNote.vue'
import { ENGINE } from '@/parts/stations/engine'
import { STEPS } from '@/parts/stations/steps'
import type { Answer } from '@/parts/stations/kind'
import { answerTo, keptUnder, lacking } from '@/parts/stations/kinds'
import StationBody from '@/parts/stations/StationBody.vue'
import ThreadLine from '@/parts/thread/ThreadLine.vue'

/** A learner works through a lesson: one station at a time, each answer on disk before the next screen. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const router = useRouter()
const queries = useQueryClient()

const number = computed(() => Number(props.id))
const index = ref<number>()
const answer = ref<Answer>()
const touched = ref(false)
const problem = ref('')
const busy = ref(false)
/** An answer that the server has not acknowledged, with its id: sent again it is stored once. */
let sending: { text: string; id: string } | undefined

const attempt = useQuery({
  queryKey: ['attempt', number],
  queryFn: () => unwrap(client.GET('/api/attempts/{attempt_id}', { params: { path: { attempt_id: number.value } } })),
  staleTime: 0,
})
const stations = computed(() => attempt.data.value?.stations ?? [])
/** The learner's way: some stations only others get. */
const way = computed(() => stations.value.filter((entry) => !entry.left_out))
const at = computed(() => way.value.findIndex((entry) => entry.index === index.value))
watch(
  attempt.data,
  (data) => {
    if (data?.finished) void router.replace({ name: 'debrief', params: { id: props.id } })
    if (data && index.value === undefined) {
      const next = way.value.find((s) => s.open && !s.answered)
      index.value = next?.index ?? way.value.at(-1)?.index
    }
  },
  { immediate: true },
)

const path = computed(() => ({ attempt_id: number.value, index: index.value ?? 0 }))
const station = useQuery({
  queryKey: ['attempt-station', number, index],
  queryFn: () => unwrap(client.GET('/api/attempts/{attempt_id}/stations/{index}', { params: { path: path.value } })),
  enabled: computed(() => index.value !== undefined),
  staleTime: 0,
})
const view = computed(() => station.data.value?.station)
const lanes = useQuery({
  queryKey: ['attempt-lanes', number, index],
  queryFn: () =>
    unwrap(client.GET('/api/attempts/{attempt_id}/stations/{index}/lanes', { params: { path: path.value } })),
  enabled: computed(() => view.value?.has_lanes === true && view.value.index === index.value),
  staleTime: Infinity,
})

/** The running engine of a station. */
provide(ENGINE, {
  open: (at, anew) =>
    unwrap(
      client.POST('/api/attempts/{attempt_id}/stations/{index}/bench', {
        params: { path: { attempt_id: number.value, index: at } },
        body: { anew },
      }),
    ),
  view: defineAsyncComponent(() => import('@/features/bench/live/RunningBench.vue')),
})

/** Choices that stay once they are made, with what came of them. */
provide(STEPS, {
  taken: computed(() => station.data.value?.steps ?? []),
  take: async (at, name, choice) => {
    problem.value = ''
    try {
      const where = { params: { path: { attempt_id: number.value, index: at } } }
      await unwrap(
        client.POST('/api/attempts/{attempt_id}/stations/{index}/steps', { ...where, body: { name, choice } }),
      )
      await station.refetch()
    } catch (error) {
      problem.value = sentence(error)
    }
  },
})

/** What was typed here but has not reached the server comes before what the server has. */
function begin() {
  const data = station.data.value
  if (!data || data.station.index !== index.value || touched.value) return
  const kept = localStorage.getItem(keptUnder(props.id, data.station.index))
  answer.value = answerTo(data.station, kept ? JSON.parse(kept) : data.answer)
}
watch([station.data, index], begin, { immediate: true })
watch(index, () => {
  touched.value = false
  problem.value = ''
  begin()
})

function change(next: Answer) {
  touched.value = true
  answer.value = next
  localStorage.setItem(keptUnder(props.id, index.value ?? 0), JSON.stringify(next))
}

/** What comes next hangs on this answer: once given, it stays. */
const fixed = computed(() => view.value?.final === true && station.data.value?.answer !== null)

async function store() {
  const here = view.value
  if (!here || !answer.value || busy.value) return
  if (fixed.value) {
    index.value = way.value[at.value + 1]?.index ?? index.value
    return
  }
  const lacks = lacking(here, answer.value)
  if (lacks) {
    problem.value = t(lacks)
    return
  }
  busy.value = true
  problem.value = ''
  try {
    const text = JSON.stringify([here.index, answer.value])
    if (sending?.text !== text) sending = { text, id: newChangeId() }
    const stored = await unwrap(
      client.POST('/api/attempts/{attempt_id}/stations/{index}/answer', {
        params: { path: { attempt_id: number.value, index: here.index } },
        body: { answer: { ...answer.value } },
        headers: { 'X-Change-Id': sending.id },
      }),
    )
    sending = undefined
    localStorage.removeItem(keptUnder(props.id, here.index))
    touched.value = false
    queries.removeQueries({ queryKey: ['attempt-station', number.value, here.index] })
    if (stored.next === null) {
      await unwrap(client.POST('/api/attempts/{attempt_id}/finish', { params: { path: { attempt_id: number.value } } }))
      await router.push({ name: 'debrief', params: { id: props.id } })
      return
    }
    await attempt.refetch()
    index.value = stored.next
    window.scrollTo({ top: 0 })
  } catch (error) {
    problem.value = sentence(error)
  } finally {
    busy.value = false
  }
}

const knots = computed(() =>
  way.value.map((s) => ({
    id: String(s.index),
    label: s.title || t(`stations.${s.kind}.name`),
    sub: s.open ? s.title : t('player.locked'),
    state: (s.open ? (s.answered ? 'done' : 'open') : 'locked') as 'done' | 'open' | 'locked',
  })),
)
const isLast = computed(() => at.value === way.value.length - 1)
const failed = computed(() => attempt.error.value ?? station.error.value ?? lanes.error.value)
</script>

<template>
  <div class="page">
    <p v-if="failed" role="alert">
      {{ sentence(failed) }} <RouterLink :to="{ name: 'home' }">{{ t('app.toHome') }}</RouterLink>
    </p>
    <template v-if="attempt.data.value">
      <div class="head">
        <h1>{{ attempt.data.value.title }}</h1>
        <span class="soft">{{ t('player.station', { n: at + 1, all: way.length }) }}</span>
      </div>
      <ThreadLine
        class="thread"
        compact
        :knots="knots"
        :selected="String(index)"
        :label="t('editor.stations')"
        @pick="(id) => (index = Number(id))"
      />
      <template v-if="view && answer && view.index === index">
        <template v-if="index === 0">
          <p v-if="attempt.data.value.goal" class="goal">{{ attempt.data.value.goal }}</p>
          <p v-if="attempt.data.value.closed_book" class="closed">{{ t('player.closedBook') }}</p>
          <CautionNote :texts="attempt.data.value.cautions" />
        </template>
        <form class="station" @submit.prevent="store">
          <h2 class="title">{{ view.title }}</h2>
          <p v-if="view.final" class="closed">{{ t(fixed ? 'player.fixed' : 'player.final') }}</p>
          <StationBody
            :station="view"
            :lanes="lanes.data.value ?? null"
            :answer="answer"
            :rig="attempt.data.value.rig"
            :name="`s${view.index}`"
            :disabled="fixed"
            @change="change"
          />
          <div class="foot">
            <ElButton type="primary" native-type="submit" :loading="busy">{{
              isLast ? t('player.finish') : t('player.next')
            }}</ElButton>
            <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
            <span v-else-if="touched" class="small soft">{{ t('player.kept') }}</span>
          </div>
        </form>
      </template>
      <p v-else-if="!failed" class="soft">{{ t('app.loading') }}</p>
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.thread {
  margin: var(--space-1) 0 var(--space-3);
}
.goal {
  max-width: 76ch;
  font-size: 15px;
}
.closed {
  border-left: 3px solid var(--rule);
  padding-left: var(--space-2);
  max-width: 76ch;
}
.station {
  margin-top: var(--space-3);
}
.title {
  font-size: 19px;
  margin-bottom: var(--space-3);
}
.foot {
  display: flex;
  align-items: center;
  gap: var(--space-3);
  margin-top: var(--space-4);
  padding-top: var(--space-3);
  border-top: 1px solid var(--rule);
}
.problem {
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
</style>
