<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'
import ThreadLine from '@/parts/thread/ThreadLine.vue'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** The first minute: an engine that runs, one reading out of band, one question. Nobody fills in a form before something moves. */
const { t } = useI18n()
/** The first one is always there; how many there are comes with it. */
const number = ref(1)
const picked = ref('')

const engine = useQuery({
  queryKey: ['puzzle', number],
  queryFn: () => unwrap(client.GET('/api/puzzles/{number}', { params: { path: { number: number.value } } })),
})
const answer = useQuery({
  queryKey: ['puzzle-answer', number],
  queryFn: () =>
    unwrap(
      client.POST('/api/puzzles/{number}/answer', {
        params: { path: { number: number.value } },
        body: { reading: picked.value },
      }),
    ),
  enabled: computed(() => picked.value !== ''),
  staleTime: Infinity,
  gcTime: 0,
})
/** One answer a puzzle: after it, the engine only runs on. */
function pick(id: string) {
  if (!picked.value) picked.value = id
}
function next() {
  picked.value = ''
  number.value = (number.value % (engine.data.value?.count ?? 1)) + 1
}

function text(value: number, digits: number): string {
  return value.toFixed(digits).replace('-', '−')
}

/** The engine runs: the traces grow in real time and begin again; whoever wants no motion sees them whole. */
const PERIOD = 100
const still = window.matchMedia('(prefers-reduced-motion: reduce)').matches
const head = ref(0)
const length = computed(() => engine.data.value?.readings[0]?.trace.length ?? 0)
const clock = setInterval(() => {
  head.value = still ? length.value : (head.value + 1) % Math.max(length.value, 1)
}, PERIOD)
onBeforeUnmount(() => clearInterval(clock))
watch(engine.data, () => (head.value = 0))

const knots = computed(() =>
  (engine.data.value?.readings ?? []).map((r) => ({
    id: r.id,
    label: r.term,
    sub: `${r.label}, ${r.place}`,
    value: text(r.trace[Math.min(head.value, r.trace.length - 1)] ?? r.value, r.digits),
    unit: r.unit,
    family: r.family,
    trace: r.trace,
    traceSpan: Math.max(r.step * 12, Math.abs(r.value) * 0.25),
    verdict: answer.data.value?.id === r.id ? answer.data.value.verdict : undefined,
  })),
)
const named = (id: string) => engine.data.value?.readings.find((r) => r.id === id)?.label ?? ''
/** The traces are of the last puzzle until the next one is there. */
const answered = computed(() => (picked.value ? answer.data.value : undefined))
</script>

<template>
  <section>
    <h1>{{ t('doubt.question') }}</h1>
    <p v-if="engine.data.value" class="soft">
      {{ t('doubt.where', { condition: engine.data.value.condition, rig: engine.data.value.rig }) }}
    </p>
    <p v-if="engine.error.value" role="alert">{{ sentence(engine.error.value) }}</p>
    <ThreadLine
      class="way"
      :knots="knots"
      :selected="picked"
      :label="t('doubt.question')"
      show-verdict
      :head="head"
      @pick="pick"
    />
    <div class="answer" aria-live="polite">
      <template v-if="answered">
        <p class="lead">
          <b>{{ named(answered.id) }}.</b>
          {{ answered.right ? t('doubt.right') : t('doubt.wrong', { picked: named(picked) }) }}
        </p>
        <p><VerdictMark :kind="answered.verdict" /></p>
        <p>{{ t('doubt.mean') }} {{ answered.reason }}</p>
      </template>
    </div>
    <button type="button" class="again" @click="next">{{ t('doubt.again') }}</button>
    <p class="claim">{{ t('doubt.claim') }}</p>
  </section>
</template>

<style scoped>
.way {
  margin: var(--space-5) 0 var(--space-4);
}
.answer {
  min-height: 108px;
  max-width: 62ch;
}
.lead {
  font-size: var(--text-lead);
}
.claim {
  max-width: 66ch;
  margin-top: var(--space-5);
  padding-top: var(--space-3);
  border-top: 1px solid var(--rule);
  color: var(--text-soft);
}
.again {
  margin-top: var(--space-2);
  border: 1px solid var(--rule);
  background: none;
  padding: 4px 12px;
  cursor: pointer;
  color: var(--text);
}
</style>
