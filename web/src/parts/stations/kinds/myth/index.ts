import type { StationKind } from '@/parts/stations/kind'
import MythBody from './MythBody.vue'
import MythDebrief from './MythDebrief.vue'
import MythForm from './MythForm.vue'
import MythKey from './MythKey.vue'

/** Statements, some of them common misconceptions: which are true? */
const kind: StationKind<'myth'> = {
  id: 'myth',
  fresh: () => ({ kind: 'myth', myths: ['m04', 'm07', 'm09', 'm55', 'm58', 'm59'], own: [], count: 4 }),
  empty: () => ({ kind: 'myth', said: {} }),
  missing: (view, answer) => (view.statements.every((entry) => answer.said?.[entry.id]) ? undefined : 'missing'),
  form: MythForm,
  body: MythBody,
  keyed: MythKey,
  debrief: MythDebrief,
}

export default kind
