import type { Component } from 'vue'
import type { Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import type { Lanes } from '@/parts/lanes/geometry'

/** What a trainer writes, what a learner sees, what they give, what is right, what the debrief tells: of any kind. */
export type Station = Schemas['Lesson']['stations'][number]
export type View = Schemas['AttemptStation']['station']
export type Answer = NonNullable<Schemas['AttemptStation']['answer']>
export type Key = Schemas['PreviewOut']['key']
export type Marked = Schemas['Debrief']['stations'][number]
export type Kind = Station['kind']

type Of<T, K extends Kind> = Extract<T, { kind: K }>

/** What a kind's form gets: the station, the conditions of its script, its engine and the channels that this has. */
export interface FormProps<K extends Kind> {
  station: Of<Station, K>
  conditions: string[]
  only?: string[]
  rig?: Rig
}

/** What a kind's body gets: what the learner sees and has given, and a name that no other body on the page has. */
export interface BodyProps<K extends Kind> {
  view: Of<View, K>
  answer: Of<Answer, K>
  lanes?: Lanes | null
  name: string
  rig: string
  disabled?: boolean
}

/** Texts of a kind: its name, and whatever its components say. They stand at `stations.<kind>` of the messages. */
export interface Words {
  name: string
  [key: string]: string
}

/** One kind of station on the screen. `keyed` and `debrief` get the parts of a key and of a marked station. */
export interface StationKind<K extends Kind = Kind> {
  id: K
  /** A new station never starts empty: it shows or asks something at once. */
  fresh: () => Omit<Of<Station, K>, 'id' | 'title' | 'text' | 'minutes' | 'vehicle' | 'overrides' | 'given_if'>
  /** An empty answer of the shape that a station asks for. */
  empty: (view: Of<View, K>) => Of<Answer, K>
  /** The word for what is still missing before an answer can be stored; undefined when nothing is. */
  missing?: (view: Of<View, K>, answer: Of<Answer, K>) => string | undefined
  /** Whether its lanes show a changed fault at once. */
  showsSignals?: boolean
  /** It places its text itself, beside a drawing. */
  placesText?: boolean
  textRows?: number
  form: Component
  body?: Component
  keyed?: Component
  debrief?: Component
}
