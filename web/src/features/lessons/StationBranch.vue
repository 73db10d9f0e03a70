<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import type { Schemas } from '@/api/client'
import type { Lesson } from '@/features/lessons/draft'
import type { Station } from '@/parts/stations/kind'
import { kindOf } from '@/parts/stations/kinds'
import { typedNumber } from '@/parts/stations/typed'

type Branch = Schemas['Branch']

/** Who gets a station: everybody, or those with some result at an earlier one. */
const props = defineProps<{ station: Station; lesson: Lesson }>()
const emit = defineEmits<{ change: [branch: Branch | null] }>()
const { t } = useI18n()

const branch = computed(() => props.station.given_if ?? null)
const place = computed(() => props.lesson.stations.findIndex((entry) => entry.id === props.station.id))
/** Stations before it that get points. */
const before = computed(() => props.lesson.stations.slice(0, place.value).filter((entry) => kindOf(entry).debrief))

function choose(id: string) {
  emit('change', id ? { result: 'below', percent: 60, ...branch.value, station: id } : null)
}
const entries = computed(() => {
  const known = before.value.map(({ id, title }) => ({ value: id, label: t('editor.branch.some', { title }) }))
  const gone = branch.value && !known.some(({ value }) => value === branch.value?.station)
  return gone ? [{ value: branch.value!.station, label: t('editor.branch.gone') }, ...known] : known
})
function change(part: Partial<Branch>) {
  if (branch.value) emit('change', { ...branch.value, ...part })
}
</script>

<template>
  <template v-if="before.length || branch">
    <span class="label">{{ t('editor.branch.who') }}</span>
    <ChooseOne
      :value="branch?.station ?? ''"
      :entries="entries"
      :label="t('editor.branch.who')"
      :none="t('editor.branch.all')"
      @choose="choose"
    />
    <span v-if="branch" class="limit">
      <select
        :aria-label="t('editor.branch.result')"
        :value="branch.result"
        @change="change({ result: ($event.target as HTMLSelectElement).value as Branch['result'] })"
      >
        <option value="below">{{ t('editor.branch.below') }}</option>
        <option value="reached">{{ t('editor.branch.reached') }}</option>
      </select>
      <input
        class="short"
        type="number"
        min="1"
        max="100"
        :aria-label="t('editor.branch.percent')"
        :value="branch.percent"
        @change="change({ percent: Math.round(typedNumber($event, 1, 100) ?? branch.percent ?? 60) })"
      />
      %
    </span>
  </template>
</template>

<style scoped>
.limit {
  display: flex;
  gap: 6px;
  align-items: center;
}
</style>
