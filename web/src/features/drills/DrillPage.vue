<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import ItemReadings from '@/features/drills/ItemReadings.vue'
import { lineOf } from '@/parts/explorer/lines'
import TraceLines from '@/parts/explorer/TraceLines.vue'

type Said = Schemas['TrialIn']['said']
type Confidence = Schemas['TrialIn']['confidence']

/** One item after the other: sound or faulty, how sure, and at once what was right. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const round = ref(0)
const said = ref<Said>()
const told = ref<Schemas['TrialTold']>()
const SURE: Confidence[] = [50, 75, 95]

const item = useQuery({
  queryKey: ['drill item', () => props.id, round],
  queryFn: () =>
    unwrap(client.POST('/api/drills/{drill_id}/next', { params: { path: { drill_id: Number(props.id) } }, body: {} })),
  staleTime: Infinity,
  gcTime: 0,
})
const view = computed(() => item.data.value?.item)
const choices = computed<Said[]>(() => (view.value?.form === 'pair' ? ['first', 'second'] : ['sound', 'faulty']))
const traces = computed(() => (view.value?.trace ? [lineOf(view.value.trace, 'trace')] : []))
const answer = useMutation({
  mutationFn: (confidence: Confidence) =>
    unwrap(
      client.POST('/api/drills/items/{trial_id}', {
        params: { path: { trial_id: item.data.value?.id ?? 0 } },
        body: { said: said.value ?? 'sound', confidence },
      }),
    ),
  onSuccess: async (found) => {
    told.value = found
    await nextTick()
    document.getElementById('drill-next')?.focus()
  },
})
function next() {
  said.value = told.value = undefined
  answer.reset()
  round.value += 1
}
watch(
  () => props.id,
  () => next(),
)
const problem = computed(() => item.error.value ?? answer.error.value)
</script>

<template>
  <div class="page">
    <p class="soft line">
      <RouterLink :to="{ name: 'drills' }">{{ t('drills.title') }}</RouterLink> ·
      <RouterLink :to="{ name: 'drill-figures', params: { id } }">{{ t('drills.figures') }}</RouterLink>
    </p>
    <p v-if="problem" role="alert">{{ sentence(problem) }}</p>
    <p v-if="!view" class="soft">{{ t('app.loading') }}</p>
    <template v-else>
      <h1>
        {{ view.engine }} <span class="soft number">{{ t('drills.item', { n: item.data.value?.number }) }}</span>
      </h1>
      <p>{{ t(`drills.ask.${view.form}`) }}</p>
      <div class="shown">
        <div v-if="view.trace" class="trace">
          <TraceLines :traces="traces" />
        </div>
        <ItemReadings v-if="told" :engines="told.key.engines" />
        <ItemReadings v-else-if="view.engines.length" :engines="view.engines" />
      </div>
      <fieldset v-if="!told" class="acts">
        <legend class="label">{{ t(view.form === 'pair' ? 'drills.which' : 'drills.verdict') }}</legend>
        <button
          v-for="choice in choices"
          :key="choice"
          type="button"
          :aria-pressed="said === choice"
          :class="{ on: said === choice }"
          @click="said = choice"
        >
          {{ t(`drills.said.${choice}`) }}
        </button>
      </fieldset>
      <fieldset v-if="!told && said" class="acts">
        <legend class="label">{{ t('drills.howSure') }}</legend>
        <button
          v-for="level in SURE"
          :key="level"
          type="button"
          :disabled="answer.isPending.value"
          @click="answer.mutate(level)"
        >
          {{ t(`drills.sure.${level}`) }}
        </button>
      </fieldset>
      <div v-if="told" class="told" role="status">
        <p class="verdict">
          <b>{{ t(told.right ? 'drills.right' : 'drills.wrong') }}</b>
          {{ t(`drills.was.${told.key.right}`) }}
          <template v-if="told.key.wrong">{{ told.key.wrong }}.</template>
        </p>
        <p v-if="told.cost">{{ told.cost }}</p>
        <p v-if="!told.key.wrong" class="small soft">{{ t('drills.lookedFor', { size: told.size }) }}</p>
        <ElButton id="drill-next" type="primary" @click="next">{{ t('drills.next') }}</ElButton>
      </div>
    </template>
  </div>
</template>

<style scoped>
h1 .number {
  font-size: var(--text-body);
  font-weight: 400;
}
.shown {
  max-width: 860px;
}
.trace {
  max-width: 620px;
  border-bottom: 1px solid var(--rule);
}
.trace p {
  margin: 0;
}
.acts {
  display: flex;
  gap: 6px;
  border: 0;
  margin: var(--space-3) 0 0;
  padding: 0;
}
.acts button {
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  cursor: pointer;
  padding: 7px 16px;
  font-size: inherit;
}
.acts button.on {
  background: var(--surface-strong);
  box-shadow: inset 0 -2px 0 var(--text);
  font-weight: 600;
}
.told {
  margin-top: var(--space-3);
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
.told p {
  margin: 0 0 var(--space-1);
}
</style>
