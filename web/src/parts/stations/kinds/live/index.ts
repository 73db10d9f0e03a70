import type { StationKind } from '@/parts/stations/kind'
import LiveBody from './LiveBody.vue'
import LiveDebrief from './LiveDebrief.vue'
import LiveForm from './LiveForm.vue'
import LiveKey from './LiveKey.vue'

/** A running engine that keeps its secret. */
const kind: StationKind<'live'> = {
  id: 'live',
  fresh: () => ({
    kind: 'live',
    channels: ['rpm', 'total_trim', 'map'],
    start: 'hot',
    hands: [],
    instruments: ['scan_tool'],
    readings: [{ condition: 'hot_idle', channel: 'total_trim', stat: 'mean' }],
    tolerance_percent: 8,
    words: 5,
  }),
  empty: (view) => ({ kind: 'live', typed: view.readings.map(() => ''), noticed: '' }),
  missing: (view, answer) => {
    if (!view.readings.every((_reading, k) => answer.typed?.[k]?.trim())) return 'missing'
    return (answer.noticed ?? '').split(/\s+/).filter(Boolean).length < view.words ? 'fewWords' : undefined
  },
  form: LiveForm,
  body: LiveBody,
  keyed: LiveKey,
  debrief: LiveDebrief,
}

export default kind
