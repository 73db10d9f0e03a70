<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import FaultTab from '@/features/signatures/FaultTab.vue'
import MatrixTab from '@/features/signatures/MatrixTab.vue'
import StepsTab from '@/features/signatures/StepsTab.vue'
import SymptomsTab from '@/features/signatures/SymptomsTab.vue'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import EngineSelect from '@/parts/choice/EngineSelect.vue'

/** Good against faulty on an engine: one fault, all faults, the trim-step test, symptoms and their causes. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const { catalogue } = useCatalogue()
const asked = (name: string, fallback: string) =>
  computed({
    get: () => (typeof route.query[name] === 'string' ? (route.query[name] as string) : fallback),
    set: (value: string) => router.replace({ query: { ...route.query, [name]: value } }),
  })
const rigId = asked('rig', 'R1')
const tab = asked('tab', 'fault')
const rig = computed(() => catalogue.value?.rigs.find((entry) => entry.id === rigId.value))
const TABS = { fault: FaultTab, matrix: MatrixTab, steps: StepsTab, symptoms: SymptomsTab }
const part = computed(() => TABS[tab.value as keyof typeof TABS] ?? FaultTab)
const choices = computed(() => Object.keys(TABS).map((id) => ({ id, label: t(`signatures.tabs.${id}`) })))
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('signatures.title') }}</h1>
      <div class="engine"><EngineSelect :value="rigId" @choose="(next) => (rigId = next)" /></div>
    </header>
    <ChoiceRow class="tabs" label="" :value="tab" :choices="choices" @choose="(id) => (tab = id)" />
    <component :is="part" v-if="rig" :key="rig.id" :rig="rig" />
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-5);
  align-items: center;
}
.top h1 {
  margin: 0;
  flex: 1;
}
.engine {
  flex: 0 1 260px;
}
.tabs {
  margin: var(--space-2) 0 var(--space-4);
  max-width: 640px;
}
.tabs :deep(> .label) {
  display: none;
}
@media (max-width: 600px) {
  .tabs :deep(.choices) {
    flex-wrap: wrap;
  }
}
</style>
