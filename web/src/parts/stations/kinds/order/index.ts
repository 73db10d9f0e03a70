import type { Schemas } from '@/api/client'
import type { StationKind } from '@/parts/stations/kind'
import OrderBody from './OrderBody.vue'
import OrderDebrief from './OrderDebrief.vue'
import OrderForm from './OrderForm.vue'
import OrderKey from './OrderKey.vue'

/** Three ways to a lean idle. */
const CAUSES: Schemas['FaultSpec'][] = [
  { kind: 'manifold_vacuum_leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } },
  { kind: 'fuel_pressure_low', params: { factor: 0.7, factor_full: 0.7 }, onset: { mode: 'permanent' } },
  { kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } },
]

/** In which order does one test? */
const kind: StationKind<'order'> = {
  id: 'order',
  fresh: () => ({
    kind: 'order',
    causes: [...CAUSES],
    tests: ['scan.no_load_2500.trims', 'gauge.fuel_gauge', 'scan.wot_pull.air', 'part.airflow meter'],
  }),
  empty: () => ({ kind: 'order', order: [] }),
  missing: (view, answer) => (answer.order?.length === view.tests.length ? undefined : 'missing'),
  form: OrderForm,
  body: OrderBody,
  keyed: OrderKey,
  debrief: OrderDebrief,
}

export default kind
