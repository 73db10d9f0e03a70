<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Rig } from '@/api/catalogue'
import { client, sentence, unwrap } from '@/api/client'
import StepsTable from '@/features/signatures/StepsTable.vue'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'

/** The trim-step test, and on a boosted engine the place of a leak against the pressure there. */
const props = defineProps<{ rig: Rig }>()
const { t, tm } = useI18n()
const size = ref('1')
const query = useQuery({
  queryKey: ['steps', computed(() => props.rig.id), size],
  queryFn: ({ signal }) =>
    unwrap(
      client.GET('/api/rigs/{rig}/steps', {
        params: { path: { rig: props.rig.id }, query: { size: Number(size.value) } },
        signal,
      }),
    ),
  placeholderData: keepPreviousData,
  staleTime: Infinity,
  retry: false,
})
const sizes = computed(() => (tm('signatures.sizes') as string[]).map((label, k) => ({ id: String(k), label })))
</script>

<template>
  <p class="small soft">{{ t('signatures.stepsLead') }}</p>
  <ChoiceRow class="sizes" :label="t('signatures.size')" :value="size" :choices="sizes" @choose="(id) => (size = id)" />
  <p v-if="query.error.value" role="alert">{{ sentence(query.error.value) }}</p>
  <p v-else-if="!query.data.value" class="soft" role="status">{{ t('signatures.computing') }}</p>
  <template v-else>
    <StepsTable
      v-if="query.data.value.columns.length"
      :columns="query.data.value.columns"
      :conditions="query.data.value.conditions"
      :rig="rig.id"
    />
    <p v-else>{{ t('signatures.noTrims') }}</p>
    <template v-if="query.data.value.places.length">
      <h2>{{ t('signatures.placesTitle') }}</h2>
      <p class="small soft">{{ t('signatures.placesLead') }}</p>
      <StepsTable :columns="query.data.value.places" :conditions="query.data.value.place_conditions" :rig="rig.id" />
    </template>
  </template>
</template>

<style scoped>
.sizes {
  max-width: 300px;
  margin-bottom: var(--space-3);
}
h2 {
  margin: var(--space-5) 0 4px;
}
</style>
