import type { StationKind } from '@/parts/stations/kind'
import SketchBody from './SketchBody.vue'
import SketchDebrief from './SketchDebrief.vue'
import SketchForm from './SketchForm.vue'
import SketchKey from './SketchKey.vue'

/** Draw what a trace will look like, before it is seen. */
const kind: StationKind<'sketch'> = {
  id: 'sketch',
  fresh: () => ({
    kind: 'sketch',
    place: { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
    tell_fault: true,
  }),
  empty: (view) => ({ kind: 'sketch', drawn: view.trace.knots.map(() => null) }),
  missing: (view, answer) =>
    view.trace.knots.every((_time, k) => answer.drawn?.[k] !== null && answer.drawn?.[k] !== undefined)
      ? undefined
      : 'missing',
  showsSignals: true,
  form: SketchForm,
  body: SketchBody,
  keyed: SketchKey,
  debrief: SketchDebrief,
}

export default kind
