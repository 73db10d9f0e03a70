<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { client, unwrap, type Schemas } from '@/api/client'
import PlateDrawing from '@/parts/plates/PlateDrawing.vue'
import type { FormProps } from '@/parts/stations/kind'

/** Which plates. */
const FEWEST = 3
const MOST = 8
const props = defineProps<FormProps<'plates'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Plates']>] }>()
const { t } = useI18n()
const known = useQuery({
  queryKey: ['plates'],
  queryFn: () => unwrap(client.GET('/api/plates')),
  staleTime: Infinity,
})
const has = (id: string) => props.station.plates.includes(id)
/** As many as there may be; the others stand still. */
const fixed = (id: string) => (has(id) ? props.station.plates.length <= FEWEST : props.station.plates.length >= MOST)
function turn(id: string) {
  const plates = has(id) ? props.station.plates.filter((plate) => plate !== id) : [...props.station.plates, id]
  emit('change', { plates })
}
</script>

<template>
  <span class="label">{{ t('stations.plates.which') }}</span>
  <fieldset v-for="group in known.data.value ?? []" :key="group.group">
    <legend class="small soft">{{ t(`stations.plates.group.${group.group}`) }}</legend>
    <label v-for="plate in group.plates" :key="plate.id">
      <input type="checkbox" :checked="has(plate.id)" :disabled="fixed(plate.id)" @change="turn(plate.id)" />
      <PlateDrawing class="plate" :look="plate.looks[0] ?? ''" sight="" />
      <span
        >{{ plate.sight }}<br /><span class="small soft">{{ plate.means }}</span></span
      >
    </label>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0 0 var(--space-2);
  padding: 0;
}
label {
  display: grid;
  grid-template-columns: auto 76px 1fr;
  gap: var(--space-2);
  align-items: center;
  border-top: 1px solid var(--rule);
  padding: 3px 0;
}
.plate {
  height: 38px;
}
</style>
