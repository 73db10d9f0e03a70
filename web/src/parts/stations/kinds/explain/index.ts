import type { StationKind } from '@/parts/stations/kind'
import ExplainBody from './ExplainBody.vue'
import ExplainForm from './ExplainForm.vue'

/** Text with formulas, and a drawing that can be explored. */
const kind: StationKind<'explain'> = {
  id: 'explain',
  fresh: () => ({ kind: 'explain', drawing: 'narrowband', pictures: [] }),
  empty: () => ({ kind: 'explain', seen: true }),
  placesText: true,
  textRows: 13,
  form: ExplainForm,
  body: ExplainBody,
}

export default kind
