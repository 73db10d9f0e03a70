import type { StationKind } from '@/parts/stations/kind'
import PlatesBody from './PlatesBody.vue'
import PlatesDebrief from './PlatesDebrief.vue'
import PlatesForm from './PlatesForm.vue'
import PlatesKey from './PlatesKey.vue'

/** What the eye sees, and what follows from it. */
const kind: StationKind<'plates'> = {
  id: 'plates',
  fresh: () => ({ kind: 'plates', plates: ['tip_normal', 'tip_soot', 'tip_oil', 'tip_silicone', 'tip_coolant'] }),
  empty: (view) => ({ kind: 'plates', meanings: view.plates.map(() => null) }),
  missing: (view, answer) => (view.plates.every((_plate, k) => answer.meanings?.[k]) ? undefined : 'missing'),
  form: PlatesForm,
  body: PlatesBody,
  keyed: PlatesKey,
  debrief: PlatesDebrief,
}

export default kind
