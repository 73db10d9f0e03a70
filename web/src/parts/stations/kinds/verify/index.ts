import type { StationKind } from '@/parts/stations/kind'
import VerifyBody from './VerifyBody.vue'
import VerifyDebrief from './VerifyDebrief.vue'
import VerifyForm from './VerifyForm.vue'
import VerifyKey from './VerifyKey.vue'

/** Before and after a repair: is it mended, in the complaint's own condition? */
const kind: StationKind<'verify'> = {
  id: 'verify',
  fresh: () => ({
    kind: 'verify',
    complaint: 'hot_idle',
    readings: [
      { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
      { condition: 'cruise_80', channel: 'total_trim', stat: 'mean' },
    ],
  }),
  empty: () => ({ kind: 'verify' }),
  missing: (_view, answer) => (answer.state ? undefined : 'missing'),
  form: VerifyForm,
  body: VerifyBody,
  keyed: VerifyKey,
  debrief: VerifyDebrief,
}

export default kind
