<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
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
/** Supply and heater belong to the same plug as the signal; an actuator's plug has no pins here. */
const plugs = computed(() => {
  const found = new Map<string, string>()
  for (const plug of reach.data.value?.plugs ?? []) {
    const wire = plug.wire.replace(/_(supply|heater)$/, '')
    if (plug.sensor && !found.has(wire)) found.set(wire, plug.label)
  }
  return [...found]
})
</script>

<template>
  <label class="label" for="pins-plug">{{ t('stations.pins.plug') }}</label>
  <select
    id="pins-plug"
    :value="station.wire"
    @change="emit('change', { wire: ($event.target as HTMLSelectElement).value })"
  >
    <option v-if="!plugs.some(([wire]) => wire === station.wire)" :value="station.wire">{{ station.wire }}</option>
    <option v-for="[wire, label] in plugs" :key="wire" :value="wire">{{ label }}</option>
  </select>
</template>
