<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '@/api/client'
import ReadingPlaceRow from '@/parts/stations/ReadingPlaceRow.vue'

type Place = Schemas['ReadingPlace']

/** Any number of places where values are read; a new one begins as a copy of the last. */
const props = withDefaults(
  defineProps<{ label: string; places: Place[]; conditions: string[]; only?: string[]; fewest?: number }>(),
  { only: undefined, fewest: 1 },
)
const emit = defineEmits<{ change: [places: Place[]] }>()
const { t } = useI18n()

function add() {
  const last = props.places[props.places.length - 1]
  emit('change', [...props.places, { condition: 'hot_idle', channel: 'total_trim', stat: 'mean', ...last }])
}

function replace(k: number, next: Place) {
  emit(
    'change',
    props.places.map((old, j) => (j === k ? next : old)),
  )
}
</script>

<template>
  <span class="label">{{ label }} ({{ places.length }})</span>
  <ReadingPlaceRow
    v-for="(place, k) in places"
    :key="k"
    :place="place"
    :conditions="conditions"
    :only="only"
    :removable="places.length > fewest"
    @change="(next) => replace(k, next)"
    @remove="
      emit(
        'change',
        places.filter((_, j) => j !== k),
      )
    "
  />
  <button type="button" class="add" @click="add">+ {{ t('editor.addReading') }}</button>
</template>
