<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'
import { typedNumber } from '@/parts/stations/typed'

/** Which misconceptions, and how many of them a learner gets. */
const props = defineProps<FormProps<'myth'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Myth']>] }>()
const { t } = useI18n()
const all = useQuery({
  queryKey: ['myths'],
  queryFn: () => unwrap(client.GET('/api/atlas/myths')),
  staleTime: Infinity,
})
const words = ref('')
/** Chosen ones stay in sight whatever is searched. */
const shown = computed(() =>
  (all.data.value ?? []).filter(
    (myth) =>
      props.station.myths.includes(myth.id) ||
      (words.value.trim() && `${myth.claim} ${myth.fact}`.toLowerCase().includes(words.value.trim().toLowerCase())),
  ),
)
function toggle(id: string) {
  const has = props.station.myths.includes(id)
  const next = has ? props.station.myths.filter((entry) => entry !== id) : [...props.station.myths, id]
  if (next.length + own.value.length && next.length <= 20) emit('change', { myths: next })
}
type Own = Schemas['OwnStatement']
const own = computed(() => props.station.own ?? [])
/** Words of a statement wait here until both are there: an empty one is no statement. */
const fresh = ref<Own>({ text: '', right: 'false', reason: '' })
function replace(k: number, part: Partial<Own>) {
  const next = own.value.map((old, j) => (j === k ? { ...old, ...part } : old))
  if (next.every((entry) => entry.text.trim() && entry.reason.trim())) emit('change', { own: next })
}
function remove(k: number) {
  const next = own.value.filter((_, j) => j !== k)
  if (next.length + props.station.myths.length) emit('change', { own: next })
}
function add() {
  emit('change', { own: [...own.value, fresh.value] })
  fresh.value = { text: '', right: 'false', reason: '' }
}
const refused = ref('')
async function readQuestions(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  refused.value = ''
  try {
    const found = (await unwrap(
      client.POST('/api/statements', {
        headers: { 'Content-Type': 'text/plain' },
        body: file as never,
        bodySerializer: (body: unknown) => body as never,
      } as never),
    )) as Own[]
    emit('change', { own: [...own.value, ...found].slice(0, 20) })
  } catch (error) {
    refused.value = sentence(error)
  }
}
const text = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <label class="label" for="myth-count">{{ t('stations.myth.count') }}</label>
  <input
    id="myth-count"
    class="short"
    type="number"
    min="1"
    max="10"
    :value="station.count"
    @change="emit('change', { count: typedNumber($event, 1, 10) ?? station.count })"
  />
  <label class="label" for="myth-find">{{ t('stations.myth.asked') }}</label>
  <input id="myth-find" v-model="words" :placeholder="t('stations.myth.find')" />
  <label v-for="myth in shown" :key="myth.id" class="tick small">
    <input type="checkbox" :checked="station.myths.includes(myth.id)" @change="toggle(myth.id)" />
    {{ myth.claim }}
  </label>
  <span class="label">{{ t('stations.myth.own') }}</span>
  <div v-for="(entry, k) in own" :key="k" class="own">
    <textarea
      rows="2"
      maxlength="600"
      :aria-label="t('stations.myth.statement')"
      :value="entry.text"
      @change="replace(k, { text: text($event) })"
    ></textarea>
    <label class="tick small">
      <input
        type="checkbox"
        :checked="entry.right === 'true'"
        @change="replace(k, { right: ($event.target as HTMLInputElement).checked ? 'true' : 'false' })"
      />
      {{ t('stations.myth.isTrue') }}
      <button type="button" :aria-label="t('editor.removeRow')" @click="remove(k)">×</button>
    </label>
    <textarea
      rows="3"
      maxlength="1200"
      :aria-label="t('stations.myth.why')"
      :value="entry.reason"
      @change="replace(k, { reason: text($event) })"
    ></textarea>
  </div>
  <div v-if="own.length < 20" class="own">
    <textarea v-model="fresh.text" rows="2" maxlength="600" :placeholder="t('stations.myth.statement')"></textarea>
    <label class="tick small">
      <input
        type="checkbox"
        :checked="fresh.right === 'true'"
        @change="fresh.right = fresh.right === 'true' ? 'false' : 'true'"
      />
      {{ t('stations.myth.isTrue') }}
    </label>
    <textarea v-model="fresh.reason" rows="2" maxlength="1200" :placeholder="t('stations.myth.why')"></textarea>
    <button type="button" class="add" :disabled="!fresh.text.trim() || !fresh.reason.trim()" @click="add">
      + {{ t('stations.myth.addOwn') }}
    </button>
  </div>
  <label class="add file">
    + {{ t('stations.myth.read') }}
    <input class="visually-hidden" type="file" accept=".txt,.gift,text/plain" @change="readQuestions" />
  </label>
  <p v-if="refused" class="small" role="alert">{{ refused }}</p>
  <p class="small soft">{{ t('stations.myth.drawn') }}</p>
</template>

<style scoped>
.own {
  display: flex;
  flex-direction: column;
  gap: 4px;
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
.own textarea {
  width: 100%;
}
.own .tick button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
</style>
