import type { StationKind } from '@/parts/stations/kind'
import CalculateBody from './CalculateBody.vue'
import CalculateDebrief from './CalculateDebrief.vue'
import CalculateForm from './CalculateForm.vue'
import CalculateKey from './CalculateKey.vue'

/** A calculation with the numbers of the learner's own engine. */
const kind: StationKind<'calculate'> = {
  id: 'calculate',
  fresh: () => ({
    kind: 'calculate',
    working: 'total_trim',
    condition: 'hot_idle',
    given: {},
    faulty: true,
    show_formulas: false,
  }),
  empty: () => ({ kind: 'calculate', steps: {} }),
  missing: (view, answer) =>
    answer.steps?.[view.steps[view.steps.length - 1]?.symbol ?? '']?.trim() ? undefined : 'missing',
  form: CalculateForm,
  body: CalculateBody,
  keyed: CalculateKey,
  debrief: CalculateDebrief,
}

export default kind
