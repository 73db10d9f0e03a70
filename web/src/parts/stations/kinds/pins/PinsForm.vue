<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import { client, unwrap, type Schemas } from '@/api/client'
import type { FormProps } from '@/parts/stations/kind'

/** Which plug of the engine. */
const props = defineProps<FormProps<'pins'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Pins']>] }>()
const { t } = useI18n()
const reach = useQuery({
  queryKey: ['reach', computed(() => props.rig?.id)],
  queryFn: () => unwrap(client.GET('/api/rigs/{rig}/reach', { params: { path: { rig: props.rig?.id ?? '' } } })),
  enabled: computed(() => props.rig !== undefined),
  staleTime: Infinity,
})
/** An actuator's plug has no pins here. */
const plugs = computed(() => {
  const found = new Map(props.station.wire ? [[props.station.wire, props.station.wire]] : [])
  for (const { sensor, plug, label } of [...(reach.data.value?.plugs ?? [])].reverse())
    if (sensor) found.set(plug, label)
  return [...found].map(([value, label]) => ({ value, label }))
})
</script>

<template>
  <span class="label">{{ t('stations.pins.plug') }}</span>
  <ChooseOne
    :value="station.wire"
    :entries="plugs"
    :label="t('stations.pins.plug')"
    @choose="(wire) => emit('change', { wire })"
  />
</template>
