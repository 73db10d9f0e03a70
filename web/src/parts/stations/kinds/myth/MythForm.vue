<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, unwrap, type Schemas } from '@/api/client'
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
  if (next.length && next.length <= 20) emit('change', { myths: next })
}
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
  <p class="small soft">{{ t('stations.myth.drawn') }}</p>
</template>
