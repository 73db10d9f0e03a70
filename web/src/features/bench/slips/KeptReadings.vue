<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { dayAndTime } from '@/format/dates'
import type { Kept } from '@/features/bench/slips/reading'
import VerdictMark from '@/parts/verdict/VerdictMark.vue'

/** The list of readings: what was read, where, when and in which state; each can be judged beside sound engines. */
const props = defineProps<{ readings: Kept[]; rig: string }>()
const emit = defineEmits<{ change: [readings: Kept[]] }>()
const { t, locale } = useI18n()
const { conditions } = useCatalogue()

const problem = ref('')
const judging = useMutation({
  mutationFn: ({ body }: { body: Schemas['KeptIn']; at: number }) =>
    unwrap(client.POST('/api/rigs/{rig}/judged', { params: { path: { rig: props.rig } }, body })),
  onSuccess: (verdict, { at }) => {
    problem.value = ''
    emit(
      'change',
      props.readings.map((other, k) => (k === at ? { ...other, verdict } : other)),
    )
  },
  onError: (error) => (problem.value = sentence(error)),
})

/** What was kept before readings were known by an id can only be read. */
function judgeable(kept: Kept): Schemas['KeptIn'] | undefined {
  return kept.reading?.what ? kept.reading : undefined
}
const readable = computed(() => props.readings.flatMap((kept) => judgeable(kept) ?? []))
const together = useMutation({
  mutationFn: (readings: Schemas['KeptIn'][]) =>
    unwrap(
      client.POST('/api/rigs/{rig}/judged-together', { params: { path: { rig: props.rig } }, body: { readings } }),
    ),
  onSuccess: () => (problem.value = ''),
  onError: (error) => (problem.value = sentence(error)),
})
/** What was said of other readings is said of these no more. */
watch(() => readable.value.length, together.reset)
</script>

<template>
  <section class="kept">
    <h2>{{ t('live.readings') }}</h2>
    <p v-if="problem" class="problem small" role="alert">{{ problem }}</p>
    <ul class="small">
      <li v-for="(reading, k) in readings" :key="k">
        <span class="what">{{ reading.label }}</span>
        <b class="number">{{ reading.text }}</b>
        <button
          type="button"
          class="away"
          :aria-label="t('editor.removeRow')"
          @click="
            emit(
              'change',
              readings.filter((_, j) => j !== k),
            )
          "
        >
          ×
        </button>
        <span class="soft where">{{ reading.where }}, {{ dayAndTime(reading.at, locale) }}</span>
        <details v-if="reading.verdict" class="where">
          <summary><VerdictMark :kind="reading.verdict.verdict" /></summary>
          {{ reading.verdict.reason }}
        </details>
        <button
          v-else-if="judgeable(reading)"
          type="button"
          class="judge where"
          :disabled="judging.isPending.value"
          @click="judging.mutate({ body: judgeable(reading)!, at: k })"
        >
          {{ t(judging.isPending.value && judging.variables.value?.at === k ? 'bench.running' : 'live.judgeIt') }}
        </button>
      </li>
    </ul>
    <button
      v-if="readable.length"
      type="button"
      class="together"
      :disabled="together.isPending.value"
      @click="together.mutate(readable)"
    >
      {{ t(together.isPending.value ? 'bench.running' : 'live.lookTogether') }}
    </button>
    <div v-if="together.data.value" class="small" role="status">
      <h3>{{ t('live.agreeing') }}</h3>
      <p v-if="!together.data.value.relations.length" class="soft">{{ t('live.noneAgree') }}</p>
      <details v-for="(relation, k) in together.data.value.relations" :key="k">
        <summary><VerdictMark :kind="relation.verdict" /> {{ relation.label }}</summary>
        <span class="soft">{{ conditions.get(relation.condition)?.label ?? relation.condition }}:</span>
        {{ relation.reason }}
      </details>
      <h3>{{ t('live.wouldDecide') }}</h3>
      <p v-if="together.data.value.known < 1" class="soft">
        {{ t('live.causesComing', { share: Math.round(100 * together.data.value.known) }) }}
      </p>
      <p v-else-if="!together.data.value.tests.length" class="soft">{{ t('live.nothingDecides') }}</p>
      <ol>
        <li v-for="test in together.data.value.tests" :key="test.label" class="test">
          {{ t('live.testTakes', { label: test.label, minutes: Math.round(test.minutes) }) }}
        </li>
      </ol>
      <p v-if="together.data.value.advice">{{ together.data.value.advice }}</p>
    </div>
  </section>
</template>

<style scoped>
.kept {
  border-top: 1px solid var(--rule);
  padding-top: var(--space-2);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 20px;
  gap: 0 6px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.where {
  grid-column: 1 / -1;
}
.judge {
  justify-self: start;
}
.together {
  text-align: left;
}
h3 {
  margin: var(--space-2) 0 2px;
}
ol {
  margin: 0;
  padding-left: 18px;
}
.test {
  display: list-item;
  border: 0;
}
button {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
  padding: 2px 0;
}
.away {
  color: var(--text-soft);
}
summary {
  cursor: pointer;
}
</style>
