<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import type { Lesson } from '@/features/lessons/draft'
import { drivesOf } from '@/features/lessons/drives'
import ChooseOne from '@/parts/choice/ChooseOne.vue'
import EngineSelect from '@/parts/choice/EngineSelect.vue'
import { named } from '@/parts/choice/groups'
import FaultList from '@/parts/faults/FaultList.vue'
import { typedNumber } from '@/parts/stations/typed'

type Vehicle = Schemas['Vehicle']

/** The engine, drive and faults of one station, where they are others than the lesson's. */
const props = defineProps<{ vehicle: Vehicle; lesson: Lesson }>()
const emit = defineEmits<{ change: [vehicle: Vehicle] }>()
const { t } = useI18n()
const { catalogue } = useCatalogue()

const own = computed(() => Object.values(props.vehicle).some((part) => part !== null && part !== undefined))
const rig = computed(() => catalogue.value?.rigs.find((r) => r.id === (props.vehicle.rig ?? props.lesson.rig)))
const same = computed(() => props.vehicle.individual !== null && props.vehicle.individual !== undefined)

function change(part: Partial<Vehicle>) {
  emit('change', { ...props.vehicle, ...part })
}

function toggle(event: Event) {
  const { rig, script, faults } = props.lesson
  emit(
    'change',
    (event.target as HTMLInputElement).checked ? { rig, script, faults: [...(faults ?? [])], individual: null } : {},
  )
}
</script>

<template>
  <label class="tick">
    <input type="checkbox" :checked="own" @change="toggle" />
    {{ t('editor.ownVehicle') }}
  </label>
  <div v-if="own" class="own">
    <span class="label">{{ t('editor.rig') }}</span>
    <EngineSelect :value="vehicle.rig ?? lesson.rig" @choose="(rig) => change({ rig })" />
    <span class="label">{{ t('editor.script') }}</span>
    <ChooseOne
      :value="vehicle.script ?? lesson.script ?? ''"
      :entries="named(drivesOf(lesson, catalogue))"
      :label="t('editor.script')"
      @choose="(script) => change({ script })"
    />
    <span class="label">{{ t('bench.faults') }}</span>
    <FaultList :faults="vehicle.faults ?? lesson.faults ?? []" :rig="rig" @change="(faults) => change({ faults })" />
    <label class="tick">
      <input
        type="checkbox"
        :checked="same"
        @change="change({ individual: ($event.target as HTMLInputElement).checked ? 0 : null })"
      />
      {{ t('editor.sameForAll') }}
    </label>
    <template v-if="same">
      <label class="label" for="individual">{{ t('editor.individual') }}</label>
      <input
        id="individual"
        class="short"
        type="number"
        min="0"
        max="9999"
        :value="vehicle.individual"
        @change="change({ individual: Math.round(typedNumber($event, 0, 9999) ?? 0) })"
      />
    </template>
  </div>
</template>

<style scoped>
.own {
  display: flex;
  flex-direction: column;
  gap: 4px;
  border-left: 2px solid var(--rule);
  padding-left: var(--space-2);
}
</style>
