<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { RouterLink, useRouter } from 'vue-router'
import { client, sentence, unwrap, type Schemas } from '@/api/client'
import { session } from '@/api/session'
import { grouped } from '@/parts/choice/groups'
import PickOne from '@/parts/choice/PickOne.vue'

/** Drills to take; one is made of a lesson, or of kinds of faults. */
const { t, tm } = useI18n()
const router = useRouter()
const queries = useQueryClient()
const learner = computed(() => session.value?.role === 'learner')
const drills = useQuery({ queryKey: ['drills'], queryFn: () => unwrap(client.GET('/api/drills')), staleTime: 0 })
const kinds = useQuery({
  queryKey: ['drill kinds'],
  queryFn: () => unwrap(client.GET('/api/drills/kinds')),
  staleTime: Infinity,
})
const lessons = useQuery({
  queryKey: ['lessons'],
  queryFn: () => unwrap(client.GET('/api/lessons')),
  enabled: computed(() => !learner.value),
})
const chosen = ref<string[]>([])
const label = (id: string) => kinds.data.value?.find((kind) => kind.id === id)?.label ?? id
const groups = computed(() => {
  const places = Object.keys(tm('place'))
  return grouped(
    (kinds.data.value ?? [])
      .filter((kind) => !chosen.value.includes(kind.id))
      .sort((a, b) => places.indexOf(a.place) - places.indexOf(b.place)),
    (kind) => t(`place.${kind.place}`),
    (kind) => ({ value: kind.id, label: kind.label }),
  )
})
const make = useMutation({
  mutationFn: (body: Partial<Schemas['DrillIn']>) =>
    unwrap(client.POST('/api/drills', { body: { title: '', lesson: 0, kinds: [], ...body } })),
  onSuccess: () => {
    chosen.value = []
    void queries.invalidateQueries({ queryKey: ['drills'] })
  },
})
const remove = useMutation({
  mutationFn: (id: number) => unwrap(client.DELETE('/api/drills/{drill_id}', { params: { path: { drill_id: id } } })),
  onSuccess: (left) => queries.setQueryData(['drills'], left),
})
const problem = computed(() => drills.error.value ?? make.error.value ?? remove.error.value)
</script>

<template>
  <div class="page">
    <h1>{{ t('drills.title') }}</h1>
    <p class="soft">{{ t('drills.lead') }}</p>
    <p v-if="problem" role="alert">{{ sentence(problem) }}</p>
    <article v-for="drill in drills.data.value ?? []" :key="drill.id" class="drill">
      <div class="words">
        <h2>{{ drill.title }}</h2>
        <p class="small">{{ drill.kinds.join(', ') }}</p>
        <p class="small soft">
          {{ drill.engines.join(', ') }} · {{ t('drills.answered', { n: drill.answered }, drill.answered) }}
          <template v-if="drill.own"> · {{ t('drills.own') }}</template>
        </p>
      </div>
      <span class="acts">
        <RouterLink :to="{ name: 'drill-figures', params: { id: drill.id } }">{{ t('drills.figures') }}</RouterLink>
        <button v-if="drill.own || !learner" type="button" @click="remove.mutate(drill.id)">
          {{ t('drills.delete') }}
        </button>
        <ElButton type="primary" @click="router.push({ name: 'drill', params: { id: drill.id } })">{{
          t(drill.answered ? 'drills.goOn' : 'drills.start')
        }}</ElButton>
      </span>
    </article>
    <p v-if="drills.data.value?.length === 0" class="soft">{{ t('drills.none') }}</p>

    <section class="making">
      <h2>{{ t(learner ? 'drills.makeOwn' : 'drills.make') }}</h2>
      <template v-if="!learner">
        <span class="label">{{ t('drills.ofLesson') }}</span>
        <ChooseOne
          value=""
          :entries="(lessons.data.value ?? []).map(({ id, title }) => ({ value: String(id), label: title }))"
          :label="t('drills.ofLesson')"
          none=""
          :disabled="make.isPending.value"
          @choose="(id) => id && make.mutate({ lesson: Number(id) })"
        />
      </template>
      <span class="label">{{ t('drills.ofKinds') }}</span>
      <p v-for="id in chosen" :key="id" class="kind small">
        {{ label(id) }}
        <button
          type="button"
          :aria-label="t('editor.removeRow')"
          @click="chosen = chosen.filter((entry) => entry !== id)"
        >
          ×
        </button>
      </p>
      <PickOne
        v-if="chosen.length < 20"
        value=""
        :groups="groups"
        :label="t('drills.addKind')"
        @choose="(id) => (chosen = [...chosen, id])"
      />
      <ElButton
        class="go"
        :disabled="!chosen.length"
        :loading="make.isPending.value"
        @click="make.mutate({ kinds: chosen })"
        >{{ t('drills.makeIt') }}</ElButton
      >
    </section>
  </div>
</template>

<style scoped>
.drill {
  display: flex;
  gap: var(--space-4);
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: var(--space-3) 0;
}
.words {
  flex: 1;
}
.words p,
.words h2 {
  margin: 0;
}
.acts {
  display: flex;
  align-items: center;
  gap: var(--space-3);
}
.acts button:not(.el-button) {
  border: 0;
  background: none;
  color: var(--accent);
  cursor: pointer;
}
.making {
  max-width: 460px;
  margin-top: var(--space-4);
  border-top: 1px solid var(--text);
  padding-top: var(--space-2);
}
.making .label {
  display: block;
  margin-top: var(--space-2);
}
select {
  width: 100%;
}
.kind {
  display: flex;
  border-bottom: 1px solid var(--rule);
  margin: 0;
  padding: 4px 0;
}
.kind button {
  margin-left: auto;
  border: 0;
  background: none;
  color: var(--text-soft);
  cursor: pointer;
}
.go {
  margin-top: var(--space-2);
}
@media (max-width: 700px) {
  .drill {
    flex-direction: column;
    align-items: flex-start;
  }
}
</style>
