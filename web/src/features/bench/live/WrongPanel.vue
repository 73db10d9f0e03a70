<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useCatalogue, type Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import type { Doing, Vehicle } from '@/features/bench/live/line'
import PickOne from '@/parts/choice/PickOne.vue'
import FaultEditor from '@/parts/faults/FaultEditor.vue'
import { fresh } from '@/parts/faults/fresh'
import { useFaultGroups } from '@/parts/faults/groups'

type Fault = Schemas['FaultSpec']

/** What is wrong with the running engine: broken, moved and mended while it runs. */
const props = defineProps<{ vehicle: Vehicle; rig?: Rig }>()
const emit = defineEmits<{ act: [doing: Doing] }>()
const { t } = useI18n()
const { faultKinds } = useCatalogue()
const groups = useFaultGroups(() => props.rig)

function breakIt(kindId: string) {
  const kind = faultKinds.value.get(kindId)
  if (!kind) return
  const taken = new Set(props.vehicle.faults.map((entry) => entry.name))
  let n = 1
  while (taken.has(`${kindId} ${n}`.slice(0, 40))) n += 1
  const fault = { kind: kindId, params: fresh(props.rig, kind), onset: { mode: 'permanent' } }
  emit('act', { do: 'put_fault', name: `${kindId} ${n}`.slice(0, 40), fault })
}

let last: number | undefined
let sent = 0
/** A size that is dragged is told ten times a second at most, and at last as it stays. */
function change(name: string, before: Fault, next: Fault) {
  const sameKind = before.kind === next.kind && JSON.stringify(before.onset) === JSON.stringify(next.onset)
  if (!sameKind) {
    emit('act', { do: 'take_fault', name })
    emit('act', { do: 'put_fault', name, fault: next })
    return
  }
  window.clearTimeout(last)
  last = window.setTimeout(
    () => {
      sent = Date.now()
      emit('act', { do: 'size_fault', name, params: next.params })
    },
    Math.max(0, sent + 100 - Date.now()),
  )
}

/** The editor compares by what was given; what the server fills in with nothing is left out. */
function plain(fault: Fault): Fault {
  const onset = Object.fromEntries(Object.entries(fault.onset ?? {}).filter(([, value]) => value !== null))
  return { ...fault, onset: onset as Fault['onset'] }
}
</script>

<template>
  <section>
    <h2>{{ t('bench.faults') }}</h2>
    <p v-if="!vehicle.faults.length" class="soft small">{{ t('bench.noFault') }}</p>
    <FaultEditor
      v-for="put in vehicle.faults"
      :key="put.name"
      :fault="plain(put.fault)"
      :rig="rig"
      @change="(next) => change(put.name, plain(put.fault), next)"
      @remove="emit('act', { do: 'take_fault', name: put.name })"
    />
    <PickOne value="" :groups="groups" :label="t('live.break')" :prompt="t('live.break')" @choose="breakIt" />
  </section>
</template>
