import type { StationKind } from '@/parts/stations/kind'
import SheetBody from './SheetBody.vue'
import SheetDebrief from './SheetDebrief.vue'
import SheetForm from './SheetForm.vue'
import SheetKey from './SheetKey.vue'

/** Several readings of an engine, looked at together: sound or not, and by which reading? */
const kind: StationKind<'sheet'> = {
  id: 'sheet',
  fresh: () => ({
    kind: 'sheet',
    engines: 2,
    words: 0,
    faulty_percent: 50,
    as_traces: false,
    answers: 0,
    readings: [
      { condition: 'hot_idle', channel: 'rpm', stat: 'mean' },
      { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
      { condition: 'cruise_80', channel: 'total_trim', stat: 'mean' },
      { condition: 'hot_idle', channel: 'ect', stat: 'mean' },
    ],
  }),
  empty: (view) => ({
    kind: 'sheet',
    engines: view.sheets.map(() => ({ kind: 'sheet', verdict: null, tells: null })),
    why: '',
  }),
  missing: (view, answer) => {
    const said = view.sheets.map((_sheet, k) => answer.engines?.[k])
    if (said.some((entry) => !entry?.verdict)) return 'missing'
    if (said.some((entry) => entry?.verdict === 'faulty' && typeof entry.tells !== 'number')) return 'noReason'
    return (answer.why ?? '').split(/\s+/).filter(Boolean).length < view.words ? 'fewWords' : undefined
  },
  form: SheetForm,
  body: SheetBody,
  keyed: SheetKey,
  debrief: SheetDebrief,
}

export default kind
