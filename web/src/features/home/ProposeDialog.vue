<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { client, sentence, unwrap } from '@/api/client'
import { useAtlas } from '@/parts/atlas/pages'
import PickOne from '@/parts/choice/PickOne.vue'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'

/** From what learners shall be able to do to a whole lesson in the editor. */
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const router = useRouter()
const { catalogue } = useCatalogue()
const { pages } = useAtlas()
const pageId = ref('narrowband')
const rigId = ref('R1')
const fault = ref('')
const level = ref('journeyman')
const minutes = ref(60)

const page = computed(() => pages.value.find((entry) => entry.id === pageId.value))
const families = computed(() => [...new Set(pages.value.map((entry) => entry.family))])
const pageGroups = computed(() =>
  families.value.map((family) => ({
    label: t(`family.${family}`),
    entries: pages.value
      .filter((entry) => entry.family === family)
      .map((entry) => ({ value: entry.id, label: entry.title })),
  })),
)
const rigGroups = computed(() => [
  {
    label: t('propose.engine'),
    entries: (page.value?.rigs ?? []).map((id) => ({
      value: id,
      label: catalogue.value?.rigs.find((entry) => entry.id === id)?.name ?? id,
    })),
  },
])
const device = useQuery({
  queryKey: ['atlas page', pageId, rigId],
  queryFn: () =>
    unwrap(
      client.GET('/api/atlas/pages/{page}', { params: { path: { page: pageId.value }, query: { rig: rigId.value } } }),
    ),
  enabled: open,
  staleTime: Infinity,
})
const faults = computed(() => device.data.value?.faults ?? [])
function choosePage(id: string) {
  pageId.value = id
  fault.value = ''
  if (!page.value?.rigs.includes(rigId.value)) rigId.value = page.value?.rigs[0] ?? 'R1'
}
const levels = computed(() => ['start', 'journeyman', 'expert'].map((id) => ({ id, label: t(`propose.levels.${id}`) })))
const make = useMutation({
  mutationFn: async () => {
    const proposed = await unwrap(
      client.POST('/api/lessons/propose', {
        body: { page: pageId.value, rig: rigId.value, fault: fault.value, level: level.value, minutes: minutes.value },
      }),
    )
    return unwrap(client.POST('/api/lessons', { body: { document: proposed.document } }))
  },
  onSuccess: (made) => router.push({ name: 'editor', params: { id: made.id } }),
})
</script>

<template>
  <ElDialog v-model="open" :title="t('propose.title')" width="min(560px, 94vw)">
    <p class="soft">{{ t('propose.lead') }}</p>
    <span class="label">{{ t('propose.device') }}</span>
    <PickOne :value="pageId" :groups="pageGroups" :label="t('propose.device')" @choose="choosePage" />
    <span class="label">{{ t('propose.engine') }}</span>
    <PickOne
      :value="rigId"
      :groups="rigGroups"
      :label="t('propose.engine')"
      @choose="(next) => ((rigId = next), (fault = ''))"
    />
    <label class="label" for="propose-fault">{{ t('propose.fault') }}</label>
    <select id="propose-fault" v-model="fault">
      <option value="">{{ t('propose.best') }}</option>
      <option v-for="entry in faults" :key="entry.kind" :value="entry.kind">{{ entry.label }}</option>
    </select>
    <ChoiceRow
      class="level"
      :label="t('propose.level')"
      :value="level"
      :choices="levels"
      @choose="(id) => (level = id)"
    />
    <label class="label" for="propose-minutes">{{ t('propose.minutes') }}</label>
    <input id="propose-minutes" v-model.number="minutes" type="number" min="25" max="180" step="5" />
    <p v-if="make.error.value" role="alert">{{ sentence(make.error.value) }}</p>
    <template #footer>
      <ElButton @click="open = false">{{ t('app.cancel') }}</ElButton>
      <ElButton type="primary" :loading="make.isPending.value" @click="make.mutate()">{{ t('propose.make') }}</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.label {
  display: block;
  margin-top: var(--space-2);
}
select,
input {
  width: 100%;
  border: 1px solid var(--edge);
  background: var(--field);
  color: var(--text);
  padding: 5px 6px;
}
input {
  width: 90px;
}
.level {
  margin-top: var(--space-3);
}
</style>
