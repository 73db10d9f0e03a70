import type { StationKind } from '@/parts/stations/kind'
import PinsBody from './PinsBody.vue'
import PinsDebrief from './PinsDebrief.vue'
import PinsForm from './PinsForm.vue'
import PinsKey from './PinsKey.vue'

/** Which pin of a plug is which, by what a meter shows there? */
const kind: StationKind<'pins'> = {
  id: 'pins',
  fresh: () => ({ kind: 'pins', wire: 'ect' }),
  empty: (view) => ({ kind: 'pins', roles: view.pins.map(() => null) }),
  missing: (view, answer) => (view.pins.every((_pin, k) => answer.roles?.[k]) ? undefined : 'missing'),
  form: PinsForm,
  body: PinsBody,
  keyed: PinsKey,
  debrief: PinsDebrief,
}

export default kind
