<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { useCatalogue } from '@/api/catalogue'
import { client, unwrap } from '@/api/client'
import { useAtlas } from '@/parts/atlas/pages'
import PickOne from '@/parts/choice/PickOne.vue'

/** A device of the atlas, an engine that has it, and the fault to be found. */
const page = defineModel<string>('page', { required: true })
const rig = defineModel<string>('rig', { required: true })
const fault = defineModel<string>('fault', { required: true })
const { t } = useI18n()
const { catalogue } = useCatalogue()
const { pages } = useAtlas()

const chosen = computed(() => pages.value.find((entry) => entry.id === page.value))
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
    entries: (chosen.value?.rigs ?? []).map((id) => ({
      value: id,
      label: catalogue.value?.rigs.find((entry) => entry.id === id)?.name ?? id,
    })),
  },
])
const device = useQuery({
  queryKey: ['atlas page', page, rig],
  queryFn: () =>
    unwrap(
      client.GET('/api/atlas/pages/{page}', { params: { path: { page: page.value }, query: { rig: rig.value } } }),
    ),
  staleTime: Infinity,
})
const faults = computed(() => device.data.value?.faults ?? [])
function choosePage(id: string) {
  page.value = id
  fault.value = ''
  if (!chosen.value?.rigs.includes(rig.value)) rig.value = chosen.value?.rigs[0] ?? 'R1'
}
function chooseRig(id: string) {
  rig.value = id
  fault.value = ''
}
</script>

<template>
  <span class="label">{{ t('propose.device') }}</span>
  <PickOne :value="page" :groups="pageGroups" :label="t('propose.device')" @choose="choosePage" />
  <span class="label">{{ t('propose.engine') }}</span>
  <PickOne :value="rig" :groups="rigGroups" :label="t('propose.engine')" @choose="chooseRig" />
  <span class="label">{{ t('propose.fault') }}</span>
  <ChooseOne
    :value="fault ?? ''"
    :entries="faults.map(({ kind, label }) => ({ value: kind, label }))"
    :label="t('propose.fault')"
    :none="t('propose.best')"
    @choose="(kind) => (fault = kind)"
  />
</template>

<style scoped>
.label {
  display: block;
  margin-top: var(--space-2);
}
select {
  width: 100%;
}
</style>
