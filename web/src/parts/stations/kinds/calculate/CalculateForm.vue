<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ConditionSelect from '@/parts/choice/ConditionSelect.vue'
import { client, unwrap, type Schemas } from '@/api/client'
import PickOne from '@/parts/choice/PickOne.vue'
import type { FormProps } from '@/parts/stations/kind'

/** Which calculation, from which condition, and what the engine does not show. */
const props = defineProps<FormProps<'calculate'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Calculate']>] }>()
const { t } = useI18n()
const list = useQuery({
  queryKey: ['workings'],
  queryFn: () => unwrap(client.GET('/api/workings')),
  staleTime: Infinity,
})
const working = computed(() => (list.data.value ?? []).find((entry) => entry.id === props.station.working))
const groups = computed(() => [
  {
    label: t('stations.calculate.working'),
    entries: (list.data.value ?? []).map((entry) => ({ value: entry.id, label: entry.label })),
  },
])
/** What no channel of this engine gives. */
const own = computed(() =>
  (working.value?.inputs ?? []).filter((entry) => !entry.channel || !props.only?.includes(entry.channel)),
)
function give(symbol: string, event: Event) {
  const text = (event.target as HTMLInputElement).value.trim()
  const given = { ...props.station.given, [symbol]: text }
  if (!text) delete given[symbol]
  emit('change', { given })
}
function choose(id: string) {
  emit('change', { working: id, given: {} })
}
</script>

<template>
  <span class="label">{{ t('stations.calculate.working') }}</span>
  <PickOne :value="station.working" :groups="groups" :label="t('stations.calculate.working')" @choose="choose" />
  <span class="label">{{ t('values.condition') }}</span>
  <ConditionSelect
    :value="station.condition"
    :conditions="conditions"
    :label="t('values.condition')"
    @choose="(condition) => emit('change', { condition })"
  />
  <template v-if="own.length">
    <span class="label">{{ t('stations.calculate.own') }}</span>
    <label v-for="entry in own" :key="entry.symbol" class="small">
      {{ entry.label }}
      <input
        :value="station.given?.[entry.symbol] ?? ''"
        :placeholder="entry.default !== null ? `${entry.default} ${entry.unit}` : entry.unit"
        @change="give(entry.symbol, $event)"
      />
    </label>
  </template>
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.show_formulas"
      @change="emit('change', { show_formulas: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.calculate.showFormulas') }}
  </label>
  <label class="tick">
    <input
      type="checkbox"
      :checked="station.faulty"
      @change="emit('change', { faulty: ($event.target as HTMLInputElement).checked })"
    />
    {{ t('stations.calculate.fromFaulty') }}
  </label>
</template>
