import type { Schemas } from '@/api/client'
import type { StationKind } from '@/parts/stations/kind'
import ConcludeBody from './ConcludeBody.vue'
import ConcludeDebrief from './ConcludeDebrief.vue'
import ConcludeForm from './ConcludeForm.vue'
import ConcludeKey from './ConcludeKey.vue'

/** A cause that is often confused with another, that other, and none. */
const CAUSES: (Schemas['FaultSpec'] | null)[] = [
  { kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } },
  { kind: 'manifold_vacuum_leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } },
  null,
]

/** Which of the offered causes explains all readings. */
const kind: StationKind<'conclude'> = {
  id: 'conclude',
  fresh: () => ({
    kind: 'conclude',
    readings: [
      { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
      { condition: 'cruise_80', channel: 'total_trim', stat: 'mean' },
      { condition: 'wot_pull', channel: 've', stat: 'mean' },
    ],
    causes: [...CAUSES],
    together: [],
  }),
  empty: () => ({ kind: 'conclude' }),
  missing: (_view, answer) => (answer.cause ? undefined : 'missing'),
  form: ConcludeForm,
  body: ConcludeBody,
  keyed: ConcludeKey,
  debrief: ConcludeDebrief,
}

export default kind
