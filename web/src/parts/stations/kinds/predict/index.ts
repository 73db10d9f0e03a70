import type { StationKind } from '@/parts/stations/kind'
import PredictBody from './PredictBody.vue'
import PredictDebrief from './PredictDebrief.vue'
import PredictForm from './PredictForm.vue'
import PredictKey from './PredictKey.vue'

/** Which way will each reading go when the fault is there? */
const kind: StationKind<'predict'> = {
  id: 'predict',
  fresh: () => ({
    kind: 'predict',
    readings: [
      { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
      { condition: 'hot_idle', channel: 'rpm', stat: 'mean' },
      { condition: 'hot_idle', channel: 'ect', stat: 'mean' },
    ],
    tell_fault: true,
  }),
  empty: (view) => ({ kind: 'predict', ways: view.readings.map(() => null) }),
  missing: (view, answer) => (view.readings.every((_reading, k) => answer.ways?.[k]) ? undefined : 'missing'),
  showsSignals: true,
  form: PredictForm,
  body: PredictBody,
  keyed: PredictKey,
  debrief: PredictDebrief,
}

export default kind
