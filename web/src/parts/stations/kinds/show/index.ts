import type { StationKind } from '@/parts/stations/kind'
import ShowBody from './ShowBody.vue'
import ShowForm from './ShowForm.vue'

/** Lanes along the script, good against faulty. */
const kind: StationKind<'show'> = {
  id: 'show',
  fresh: () => ({ kind: 'show', channels: ['maf', 'total_trim', 'ho2s_b1s1_v'], show_good: true, focus: null }),
  empty: () => ({ kind: 'show', seen: true }),
  showsSignals: true,
  form: ShowForm,
  body: ShowBody,
}

export default kind
