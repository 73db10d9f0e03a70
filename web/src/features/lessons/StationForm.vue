<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Lesson } from '@/features/lessons/draft'
import { drivesOf } from '@/features/lessons/drives'
import StationBranch from '@/features/lessons/StationBranch.vue'
import StationVehicle from '@/features/lessons/StationVehicle.vue'
import type { Station } from '@/parts/stations/kind'
import { kindOf } from '@/parts/stations/kinds'
import { typedNumber } from '@/parts/stations/typed'

/** All that can be changed at one station: title, text, what its kind has, its own engine. Every change goes up as a whole station. */
const props = defineProps<{ station: Station; lesson: Lesson }>()
const emit = defineEmits<{ change: [station: Station] }>()
const { t } = useI18n()
const { catalogue } = useCatalogue()

const kind = computed(() => kindOf(props.station))
const vehicle = computed(() => props.station.vehicle ?? {})
const rig = computed(() => catalogue.value?.rigs.find((r) => r.id === (vehicle.value.rig ?? props.lesson.rig)))
const script = computed(() =>
  drivesOf(props.lesson, catalogue.value).find((s) => s.id === (vehicle.value.script ?? props.lesson.script)),
)

function change(part: Partial<Station>) {
  emit('change', { ...props.station, ...part } as Station)
}

function value(event: Event): string {
  return (event.target as HTMLInputElement).value
}
</script>

<template>
  <div class="form">
    <label class="label" for="station-title">{{ t('editor.title') }}</label>
    <input id="station-title" :value="station.title" maxlength="120" @input="change({ title: value($event) })" />
    <label class="label" for="station-minutes">{{ t('editor.minutes') }}</label>
    <input
      id="station-minutes"
      class="short"
      type="number"
      min="0"
      max="240"
      :value="station.minutes ?? 0"
      @change="change({ minutes: typedNumber($event, 0, 240) ?? station.minutes })"
    />
    <label class="label" for="station-text">
      {{ t('editor.text') }} <span class="hint">{{ t('editor.textHint') }}</span>
    </label>
    <textarea
      id="station-text"
      :value="station.text"
      :rows="kind.textRows ?? 5"
      @input="change({ text: value($event) })"
    ></textarea>
    <component
      :is="kind.form"
      :station="station"
      :conditions="script?.conditions ?? []"
      :only="rig?.channels"
      :rig="rig"
      @change="change"
    />
    <StationBranch :station="station" :lesson="lesson" @change="(next) => change({ given_if: next })" />
    <StationVehicle :vehicle="vehicle" :lesson="lesson" @change="(next) => change({ vehicle: next })" />
  </div>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.form > :deep(.label) {
  margin-top: var(--space-2);
}
.hint {
  font-size: 11px;
  opacity: 0.85;
}
.form :deep(input:not([type='checkbox'], [type='radio'])),
.form :deep(select),
textarea {
  width: 100%;
}
textarea {
  resize: vertical;
  line-height: 1.45;
}
.form :deep(.size input) {
  width: 72px;
}
.form :deep(input.short) {
  width: 76px;
}
.form :deep(.tick) {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: var(--space-2);
}
.form :deep(.tick input) {
  accent-color: var(--accent);
}
.form :deep(.add) {
  border: 1px solid var(--rule);
  background: var(--surface);
  color: var(--accent);
  cursor: pointer;
  padding: 4px 10px;
  text-align: left;
  flex: 1;
}
</style>
