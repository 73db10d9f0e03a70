import type { Schemas } from '@/api/client'
import type { StationKind } from '@/parts/stations/kind'
import SeparateBody from './SeparateBody.vue'
import SeparateDebrief from './SeparateDebrief.vue'
import SeparateForm from './SeparateForm.vue'
import SeparateKey from './SeparateKey.vue'

/** Two causes that look alike at idle. */
const CAUSES: Schemas['FaultSpec'][] = [
  { kind: 'manifold_vacuum_leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } },
  { kind: 'fuel_pressure_low', params: { factor: 0.7, factor_full: 0.7 }, onset: { mode: 'permanent' } },
]

/** Which test tells two causes apart? */
const kind: StationKind<'separate'> = {
  id: 'separate',
  fresh: () => ({
    kind: 'separate',
    causes: [...CAUSES],
    tests: ['scan.no_load_2500.trims', 'gauge.fuel_gauge', 'look.coolant and thermostat', 'meter.grounds'],
  }),
  empty: () => ({ kind: 'separate', test: '' }),
  missing: (_view, answer) => (answer.test ? undefined : 'missing'),
  form: SeparateForm,
  body: SeparateBody,
  keyed: SeparateKey,
  debrief: SeparateDebrief,
}

export default kind
