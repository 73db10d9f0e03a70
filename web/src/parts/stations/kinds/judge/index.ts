import type { StationKind } from '@/parts/stations/kind'
import JudgeBody from './JudgeBody.vue'
import JudgeDebrief from './JudgeDebrief.vue'
import JudgeForm from './JudgeForm.vue'
import JudgeKey from './JudgeKey.vue'

/** A verdict for each of some readings. */
const kind: StationKind<'judge'> = {
  id: 'judge',
  fresh: () => ({
    kind: 'judge',
    count: 3,
    pool: [
      { condition: 'hot_idle', channel: 'maf', stat: 'mean' },
      { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
      { condition: 'cruise_80', channel: 'total_trim', stat: 'mean' },
      { condition: 'hot_idle', channel: 'ect', stat: 'mean' },
    ],
  }),
  empty: (view) => ({ kind: 'judge', verdicts: view.readings.map(() => null) }),
  missing: (view, answer) => (view.readings.some((_, k) => !answer.verdicts?.[k]) ? 'missing' : undefined),
  form: JudgeForm,
  body: JudgeBody,
  keyed: JudgeKey,
  debrief: JudgeDebrief,
}

export default kind
