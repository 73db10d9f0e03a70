import type { Answer, Kind, Station, StationKind, View } from '@/parts/stations/kind'
import calculate from '@/parts/stations/kinds/calculate'
import conclude from '@/parts/stations/kinds/conclude'
import explain from '@/parts/stations/kinds/explain'
import judge from '@/parts/stations/kinds/judge'
import live from '@/parts/stations/kinds/live'
import match from '@/parts/stations/kinds/match'
import measure from '@/parts/stations/kinds/measure'
import myth from '@/parts/stations/kinds/myth'
import order from '@/parts/stations/kinds/order'
import own from '@/parts/stations/kinds/own'
import pins from '@/parts/stations/kinds/pins'
import plates from '@/parts/stations/kinds/plates'
import predict from '@/parts/stations/kinds/predict'
import procedure from '@/parts/stations/kinds/procedure'
import reflect from '@/parts/stations/kinds/reflect'
import separate from '@/parts/stations/kinds/separate'
import sheet from '@/parts/stations/kinds/sheet'
import show from '@/parts/stations/kinds/show'
import sketch from '@/parts/stations/kinds/sketch'
import verify from '@/parts/stations/kinds/verify'

/** All kinds, in the order in which the editor offers them. A new kind: its folder, and a line here. */
const ALL: { [K in Kind]: StationKind<K> } = {
  explain,
  myth,
  show,
  live,
  match,
  pins,
  plates,
  predict,
  sketch,
  measure,
  judge,
  sheet,
  calculate,
  separate,
  order,
  conclude,
  verify,
  procedure,
  own,
  reflect,
}
export const KINDS = Object.keys(ALL) as Kind[]

/** The kind of a station, a view, a key or a mark. */
export function kindOf(of: { kind: Kind }): StationKind {
  return ALL[of.kind] as unknown as StationKind
}

/** A name that no station has yet. */
export function freshId(kind: Kind, taken: string[]): string {
  let n = 1
  while (taken.includes(`${kind}-${n}`)) n += 1
  return `${kind}-${n}`
}

/** A new station of a kind, on the lesson's own engine. */
export function newStation(kind: Kind, title: string, taken: string[]): Station {
  return {
    ...ALL[kind].fresh(),
    id: freshId(kind, taken),
    title,
    text: '',
    minutes: 0,
    vehicle: {},
    overrides: [],
    given_if: null,
  } as Station
}

/** The answer to a station: what was given so far over an empty one. */
export function answerTo(view: View, given?: unknown): Answer {
  return { ...kindOf(view).empty(view), ...((given as Answer | null) ?? {}) }
}

/** The message for what an answer lacks; undefined when it can be stored. */
export function lacking(view: View, answer: Answer): string | undefined {
  const word = kindOf(view).missing?.(view, answer)
  return word && `stations.${view.kind}.${word}`
}

/** Place on this device where an answer waits until the server has it. */
export function keptUnder(attempt: number | string, index: number): string {
  return `leitfaden.answer.${attempt}.${index}`
}
