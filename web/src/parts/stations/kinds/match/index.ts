import type { StationKind } from '@/parts/stations/kind'
import MatchBody from './MatchBody.vue'
import MatchDebrief from './MatchDebrief.vue'
import MatchForm from './MatchForm.vue'
import MatchKey from './MatchKey.vue'

/** Values of one engine and the places where they were read. */
const kind: StationKind<'match'> = {
  id: 'match',
  fresh: () => ({
    kind: 'match',
    faulty: false,
    readings: ['hot_idle', 'no_load_2500', 'cruise_80', 'wot_pull'].map((condition) => ({
      condition,
      channel: 'rpm',
      stat: 'mean',
    })),
  }),
  empty: () => ({ kind: 'match', values: [] }),
  missing: (view, answer) => (view.places.every((_place, k) => answer.values?.[k]) ? undefined : 'missing'),
  form: MatchForm,
  body: MatchBody,
  keyed: MatchKey,
  debrief: MatchDebrief,
}

export default kind
