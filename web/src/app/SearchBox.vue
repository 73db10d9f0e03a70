<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter, type RouteLocationRaw } from 'vue-router'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { hasBench, makesLessons } from '@/api/session'
import { useKeys } from '@/parts/controls/keys'

/** One search over everything, behind one key. */
type Found = Schemas['SearchHitOut']
const { t } = useI18n()
const router = useRouter()
const open = ref(false)
const words = ref('')
const asked = ref('')
const chosen = ref(0)
const field = ref<HTMLInputElement>()
let timer: number | undefined
watch(words, (next) => {
  window.clearTimeout(timer)
  timer = window.setTimeout(() => (asked.value = next.trim()), 120)
})
const query = useQuery({
  queryKey: ['search', asked],
  queryFn: ({ signal }) => unwrap(client.GET('/api/search', { params: { query: { words: asked.value } }, signal })),
  enabled: computed(() => open.value && asked.value.length > 0),
  placeholderData: keepPreviousData,
  staleTime: Infinity,
  retry: false,
})
const found = computed(() => (asked.value ? (query.data.value ?? []) : []))
watch(found, () => (chosen.value = 0))

/** Where an entry is told more of. */
function target(entry: Found): RouteLocationRaw {
  if (entry.kind === 'calculation') return { name: 'workings', query: { of: entry.id } }
  if (entry.kind === 'condition' && hasBench.value) return { name: 'values', query: { condition: entry.id } }
  if (entry.kind === 'engine') return { name: 'atlas', query: { rig: entry.id } }
  if (entry.kind === 'fault' && makesLessons.value) return { name: 'signatures', query: { kind: entry.id } }
  if (entry.page) {
    const hash = {
      myth: `#${entry.id}`,
      school: `#${entry.id}`,
      fault: '#faults',
      channel: '#good',
      drawing: '#drawings',
    }[entry.kind]
    const drawing = entry.kind === 'drawing' ? { drawing: entry.id } : {}
    return { name: 'device', params: { id: entry.page }, query: drawing, hash: hash ?? '' }
  }
  if (entry.kind === 'code' && makesLessons.value) return { name: 'signatures', query: { tab: 'symptoms' } }
  return { name: 'glossary', query: { term: entry.kind === 'term' ? entry.title : '' } }
}

function go(entry: Found | undefined) {
  if (!entry) return
  open.value = false
  router.push(target(entry))
}
function move(by: number) {
  chosen.value = Math.max(0, Math.min(found.value.length - 1, chosen.value + by))
  nextTick(() => document.getElementById(`found-${chosen.value}`)?.scrollIntoView({ block: 'nearest' }))
}
function show() {
  open.value = true
  nextTick(() => field.value?.select())
}
useKeys(() => ({ '/': show }))
</script>

<template>
  <button type="button" class="find" :title="`${t('search.open')} (${t('search.key')})`" @click="show">
    {{ t('search.open') }} <kbd aria-hidden="true">{{ t('search.key') }}</kbd>
  </button>
  <ElDialog v-model="open" :title="t('search.open')" width="min(640px, 94vw)" @opened="field?.focus()">
    <input
      ref="field"
      v-model="words"
      type="text"
      role="combobox"
      aria-controls="search-found"
      :aria-expanded="found.length > 0"
      :aria-activedescendant="found.length ? `found-${chosen}` : undefined"
      :aria-label="t('search.prompt')"
      :placeholder="t('search.prompt')"
      maxlength="80"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(found[chosen])"
    />
    <p v-if="query.error.value" role="alert">{{ sentence(query.error.value) }}</p>
    <ul v-else-if="found.length" id="search-found" role="listbox" :aria-label="t('search.open')">
      <li
        v-for="(entry, k) in found"
        :id="`found-${k}`"
        :key="`${entry.kind}${entry.id}`"
        role="option"
        :aria-selected="k === chosen"
        @click="go(entry)"
        @mousemove="chosen = k"
      >
        <span class="kind small soft">{{ t(`search.kind.${entry.kind}`) }}</span>
        <span
          ><b>{{ entry.title }}</b> <span class="small soft">{{ entry.text }}</span></span
        >
      </li>
    </ul>
    <p v-else class="soft">{{ t(asked && !query.isFetching.value ? 'search.none' : 'search.start') }}</p>
  </ElDialog>
</template>

<style scoped>
.find {
  border: 1px solid var(--rule);
  background: none;
  color: var(--text-soft);
  padding: 2px 8px;
  font-size: var(--text-small);
  cursor: pointer;
  white-space: nowrap;
}
kbd {
  font-family: inherit;
  border-left: 1px solid var(--rule);
  padding-left: 6px;
}
input {
  width: 100%;
  font-size: var(--text-lead);
  padding: 7px 10px;
}
ul {
  list-style: none;
  margin: var(--space-2) 0 0;
  padding: 0;
  max-height: 55vh;
  overflow-y: auto;
}
li {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: var(--space-2);
  padding: 5px 6px;
  cursor: pointer;
}
li > span:last-child {
  overflow: hidden;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
}
li[aria-selected='true'] {
  background: var(--surface-strong);
}
</style>
