<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { client, sentence, unwrap } from '@/api/client'
import RunningBench from '@/features/bench/live/RunningBench.vue'

/** The bench: whoever comes in finds an engine that runs, their last one or a first one. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()

const list = useQuery({ queryKey: ['benches'], queryFn: () => unwrap(client.GET('/api/benches')), staleTime: 5000 })
const wanted = computed(() => Number(route.query.bench) || undefined)
const current = computed(() => {
  const known = list.data.value ?? []
  return known.find((bench) => bench.id === wanted.value) ?? known[0]
})

const open = useMutation({
  mutationFn: (rig: string) => unwrap(client.POST('/api/benches', { body: { beginning: { rig } as never, name: '' } })),
  onSuccess: async (bench) => {
    await queries.invalidateQueries({ queryKey: ['benches'] })
    await router.replace({ query: { bench: bench.id } })
  },
})
const close = useMutation({
  mutationFn: (id: number) => unwrap(client.DELETE('/api/benches/{bench_id}', { params: { path: { bench_id: id } } })),
  onSuccess: (left) => queries.setQueryData(['benches'], left),
})
const first = ref(false)
watch(
  () => list.data.value,
  (known) => {
    if (!known || known.length || first.value) return
    first.value = true
    open.mutate('R1')
  },
  { immediate: true },
)

/** Another engine has a bench of its own; one on which nothing was done gives its place. */
async function change(rig: string) {
  const before = current.value
  try {
    await open.mutateAsync(rig)
  } catch {
    return // why stands above
  }
  if (before && !before.doings) close.mutate(before.id)
}
const problem = computed(() => list.error.value ?? open.error.value ?? close.error.value)
</script>

<template>
  <h1 class="visually-hidden">{{ t('bench.title') }}</h1>
  <p v-if="problem" class="problem" role="alert">{{ sentence(problem) }}</p>
  <RunningBench
    v-if="current"
    :key="current.id"
    :bench="current"
    :benches="list.data.value ?? []"
    @rig="change"
    @bench="(id) => router.replace({ query: { bench: id } })"
    @close="close.mutate(current.id)"
  />
  <p v-else class="soft wait">{{ t('app.loading') }}</p>
</template>

<style scoped>
.problem {
  margin: var(--space-3) var(--space-4);
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
.wait {
  padding: var(--space-4);
}
</style>
