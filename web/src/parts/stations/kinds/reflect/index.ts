import type { StationKind } from '@/parts/stations/kind'
import ReflectBody from './ReflectBody.vue'
import ReflectDebrief from './ReflectDebrief.vue'
import ReflectForm from './ReflectForm.vue'
import ReflectKey from './ReflectKey.vue'

/** Some words for the trainer. */
const kind: StationKind<'reflect'> = {
  id: 'reflect',
  fresh: () => ({ kind: 'reflect', words: 5 }),
  empty: () => ({ kind: 'reflect', text: '' }),
  missing: (view, answer) =>
    (answer.text ?? '').split(/\s+/).filter(Boolean).length >= view.words ? undefined : 'missing',
  form: ReflectForm,
  body: ReflectBody,
  keyed: ReflectKey,
  debrief: ReflectDebrief,
}

export default kind
