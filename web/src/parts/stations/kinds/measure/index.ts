import type { StationKind } from '@/parts/stations/kind'
import MeasureBody from './MeasureBody.vue'
import MeasureDebrief from './MeasureDebrief.vue'
import MeasureForm from './MeasureForm.vue'
import MeasureKey from './MeasureKey.vue'

/** Read a value in a lane, with its unit. */
const kind: StationKind<'measure'> = {
  id: 'measure',
  fresh: () => ({
    kind: 'measure',
    reading: { condition: 'hot_idle', channel: 'maf', stat: 'mean' },
    tolerance_percent: 5,
    faulty: true,
  }),
  empty: () => ({ kind: 'measure', reading: '' }),
  missing: (_view, answer) => (answer.reading?.trim() ? undefined : 'missing'),
  showsSignals: true,
  form: MeasureForm,
  body: MeasureBody,
  keyed: MeasureKey,
  debrief: MeasureDebrief,
}

export default kind
