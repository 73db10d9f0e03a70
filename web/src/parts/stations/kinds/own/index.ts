import type { StationKind } from '@/parts/stations/kind'
import OwnBody from './OwnBody.vue'
import OwnDebrief from './OwnDebrief.vue'
import OwnForm from './OwnForm.vue'
import OwnKey from './OwnKey.vue'

/** Readings of a real engine, judged against band and instrument. */
const kind: StationKind<'own'> = {
  id: 'own',
  fresh: () => ({
    kind: 'own',
    error_percent: 2,
    readings: [
      { condition: 'hot_idle', channel: 'rpm', stat: 'mean' },
      { condition: 'hot_idle', channel: 'ect', stat: 'mean' },
    ],
  }),
  empty: () => ({ kind: 'own', heeded: false, readings: [] }),
  missing: (view, answer) => {
    if (view.cautions?.length && !answer.heeded) return 'unheeded'
    return view.readings.every((_reading, k) => answer.readings?.[k]?.value?.trim() && answer.readings[k]?.verdict)
      ? undefined
      : 'missing'
  },
  form: OwnForm,
  body: OwnBody,
  keyed: OwnKey,
  debrief: OwnDebrief,
}

export default kind
