import type { Schemas } from '@/api/client'
import type { Station } from '@/parts/stations/kind'

export type Remedy = Schemas['RemedyOut']
export type Warning = Schemas['WarningOut']
type Lesson = Schemas['Lesson']

/** The lesson with a remedy made for one station: as it stands now, not as it was when it was checked. */
export function remedied(lesson: Lesson, id: string, remedy: Remedy): Lesson {
  const station = lesson.stations.find((s) => s.id === id)
  const changed = { ...lesson, ...remedy.lesson } as Lesson
  if (!station) return changed
  const mine = { ...station, ...remedy.station } as Station
  if (!remedy.takes_out && !remedy.behind)
    return { ...changed, stations: lesson.stations.map((s) => (s.id === id ? mine : s)) }
  const others = lesson.stations.filter((s) => s.id !== id)
  if (remedy.takes_out) return others.length ? { ...changed, stations: others } : lesson
  const at = others.findIndex((s) => s.id === remedy.behind) + 1
  return { ...changed, stations: [...others.slice(0, at), mine, ...others.slice(at)] }
}
