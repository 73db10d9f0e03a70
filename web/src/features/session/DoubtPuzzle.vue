<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap } from '@/api/client'
import ThreadLine from '@/parts/thread/ThreadLine.vue'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** The first minute: an engine that runs, one reading out of band, one question. Nobody fills in a form before something moves. */
const { t } = useI18n()
const seed = ref(1 + Math.floor(Math.random() * 40))
const picked = ref('')

const engine = useQuery({
  queryKey: ['doubt', seed],
  queryFn: () => unwrap(client.GET('/api/doubt', { params: { query: { seed: seed.value } } })),
})
const verdicts = useQuery({
  queryKey: ['doubt-verdicts', seed],
  queryFn: () => unwrap(client.GET('/api/doubt/verdicts', { params: { query: { seed: seed.value } } })),
  enabled: computed(() => picked.value !== ''),
})
watch(seed, () => (picked.value = ''))

const verdict = computed(() => verdicts.data.value?.find((v) => v.id === picked.value))
const found = computed(() => verdict.value !== undefined && ['faulty', 'suspect'].includes(verdict.value.verdict))

function text(value: number, step: number): string {
  const digits = step >= 1 ? 0 : Math.ceil(-Math.log10(step) - 1e-9)
  return value.toFixed(digits).replace('-', '−')
}

const knots = computed(() =>
  (engine.data.value?.readings ?? []).map((r) => ({
    id: r.id,
    label: r.term,
    sub: `${r.label}, ${r.place}`,
    value: text(r.value, r.step),
    unit: r.unit,
    family: r.family,
    verdict: found.value ? verdicts.data.value?.find((v) => v.id === r.id)?.verdict : undefined,
  })),
)
const chosen = computed(() => engine.data.value?.readings.find((r) => r.id === picked.value))
</script>

<template>
  <section>
    <h1>{{ t('doubt.question') }}</h1>
    <p v-if="engine.data.value" class="soft">
      {{ t('doubt.where', { condition: engine.data.value.condition, rig: engine.data.value.rig }) }}
    </p>
    <p v-if="engine.error.value" role="alert">{{ sentence(engine.error.value) }}</p>
    <ThreadLine
      class="line"
      :knots="knots"
      :selected="picked"
      :label="t('doubt.question')"
      show-verdict
      @pick="(id) => (picked = id)"
    />
    <div class="answer" aria-live="polite">
      <template v-if="verdict && chosen">
        <p class="lead">
          <b>{{ chosen.label }}.</b>
          {{ found ? t('doubt.right') : t('doubt.wrong', { verdict: t(`verdict.${verdict.verdict}`) }) }}
        </p>
        <p><VerdictMark :kind="verdict.verdict" /></p>
        <p>{{ verdict.reason }}</p>
      </template>
    </div>
    <button type="button" class="again" @click="seed = (seed % 40) + 1">{{ t('doubt.again') }}</button>
  </section>
</template>

<style scoped>
.line {
  margin: var(--space-5) 0 var(--space-4);
}
.answer {
  min-height: 118px;
  max-width: 62ch;
}
.lead {
  font-size: var(--text-lead);
}
.again {
  border: 1px solid var(--rule);
  background: none;
  padding: 4px 12px;
  cursor: pointer;
  color: var(--text);
}
</style>
