import type { StationKind } from '@/parts/stations/kind'
import ProcedureBody from './ProcedureBody.vue'
import ProcedureDebrief from './ProcedureDebrief.vue'
import ProcedureForm from './ProcedureForm.vue'
import ProcedureKey from './ProcedureKey.vue'

/** A piece of handwork in stages. */
const kind: StationKind<'procedure'> = {
  id: 'procedure',
  fresh: () => ({ kind: 'procedure', piece: 'seized_sensor' }),
  empty: () => ({ kind: 'procedure', heeded: false, done: {} }),
  missing: (view, answer) => {
    if (!answer.heeded) return 'unheeded'
    return view.stages.every((stage) => (answer.done ?? {})[stage.id]) ? undefined : 'missing'
  },
  form: ProcedureForm,
  body: ProcedureBody,
  keyed: ProcedureKey,
  debrief: ProcedureDebrief,
}

export default kind
