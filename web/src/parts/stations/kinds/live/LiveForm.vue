<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import { client, unwrap, type Schemas } from '@/api/client'
import PickOne from '@/parts/choice/PickOne.vue'
import ChoiceRow from '@/parts/controls/ChoiceRow.vue'
import ChosenLanes from '@/parts/stations/ChosenLanes.vue'
import type { FormProps } from '@/parts/stations/kind'
import ReadingPlaces from '@/parts/stations/ReadingPlaces.vue'
import { typedNumber } from '@/parts/stations/typed'

/** Lanes, what may be touched, what lies there, what is to be brought back. */
const props = defineProps<FormProps<'live'>>()
const emit = defineEmits<{ change: [part: Partial<Schemas['Live']>] }>()
const { t } = useI18n()
const { channels } = useCatalogue()
const HANDS = ['plugs', 'hoses', 'parts', 'actuators', 'memory'] as const

const shown = computed(() => (props.only ?? []).filter((name) => channels.value.get(name)?.layer === 'scan'))
const reach = useQuery({
  queryKey: ['reach', computed(() => props.rig?.id)],
  queryFn: () => unwrap(client.GET('/api/rigs/{rig}/reach', { params: { path: { rig: props.rig?.id ?? '' } } })),
  enabled: computed(() => props.rig !== undefined),
  staleTime: Infinity,
})
const instruments = computed(() => reach.data.value?.instruments ?? [])
const lying = computed(() => props.station.instruments ?? [])
const labelOf = (id: string) => instruments.value.find((entry) => entry.id === id)?.label ?? id
const others = computed(() => [
  {
    label: t('live.instruments'),
    entries: instruments.value
      .filter((entry) => !lying.value.includes(entry.id))
      .map((entry) => ({ value: entry.id, label: entry.label })),
  },
])

function allow(hand: (typeof HANDS)[number], on: boolean) {
  emit('change', { hands: HANDS.filter((name) => (name === hand ? on : props.station.hands?.includes(name))) })
}
</script>

<template>
  <ChosenLanes
    :label="t('stations.live.channels')"
    :chosen="station.channels"
    :most="7"
    :only="shown"
    @change="(chosen) => emit('change', { channels: chosen })"
  />
  <ChoiceRow
    :label="t('stations.live.start')"
    :value="station.start ?? 'hot'"
    :choices="(['hot', 'cold'] as const).map((id) => ({ id, label: t(`stations.live.${id}`) }))"
    @choose="(start) => emit('change', { start: start as 'hot' | 'cold' })"
  />
  <fieldset>
    <legend class="label">{{ t('stations.live.hands') }}</legend>
    <label v-for="hand in HANDS" :key="hand" class="tick">
      <input
        type="checkbox"
        :checked="station.hands?.includes(hand)"
        @change="allow(hand, ($event.target as HTMLInputElement).checked)"
      />
      {{ t(`stations.live.hand_${hand}`) }}
    </label>
  </fieldset>
  <span class="label">{{ t('stations.live.instruments') }}</span>
  <ul v-if="lying.length" class="chosen">
    <li v-for="id in lying" :key="id">
      {{ labelOf(id) }}
      <button
        type="button"
        class="quiet"
        :aria-label="t('stations.live.away', { what: labelOf(id) })"
        @click="emit('change', { instruments: lying.filter((other) => other !== id) })"
      >
        ×
      </button>
    </li>
  </ul>
  <PickOne
    value=""
    :groups="others"
    :label="t('live.takeInstrument')"
    :prompt="t('live.takeInstrument')"
    @choose="(id) => emit('change', { instruments: [...lying, id] })"
  />
  <ReadingPlaces
    :label="t('stations.live.places')"
    :places="station.readings ?? []"
    :conditions="conditions"
    :only="shown"
    :fewest="0"
    @change="(readings) => readings.length <= 6 && emit('change', { readings })"
  />
  <label class="label" for="live-tolerance">{{ t('stations.live.tolerance') }}</label>
  <span>
    <input
      id="live-tolerance"
      class="short"
      type="number"
      min="1"
      max="50"
      :value="station.tolerance_percent"
      @change="emit('change', { tolerance_percent: typedNumber($event, 1, 50) ?? station.tolerance_percent })"
    />
    %
  </span>
  <label class="label" for="live-words">{{ t('stations.live.words') }}</label>
  <input
    id="live-words"
    class="short"
    type="number"
    min="0"
    max="100"
    :value="station.words"
    @change="emit('change', { words: Math.round(typedNumber($event, 0, 100) ?? station.words ?? 0) })"
  />
</template>

<style scoped>
.chosen {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.chosen li {
  border: 1px solid var(--edge);
  padding: 1px 2px 1px 8px;
}
.quiet {
  border: 0;
  background: none;
  cursor: pointer;
  min-width: 24px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
</style>
