import type { Lesson } from '@/features/lessons/draft'
import type { Station } from '@/parts/stations/kind'

/** A part of two drafts that both have changed: a station, or what is said of the whole lesson (`id` empty). */
export interface Clash {
  id: string
  title: string
  mine: Station | undefined
  theirs: Station | undefined
}

/** Two drafts of the same lesson put together; `clashes` are the parts where somebody must choose. */
export interface Merged {
  lesson: Lesson
  clashes: Clash[]
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/**
 * Two people have changed the same draft since `base`: what only one of them has changed is taken; where both have, mine is taken and a
 * clash is told. Order of stations: theirs, with what I have added behind the station it stood behind.
 */
export function merged(base: Lesson, mine: Lesson, theirs: Lesson): Merged {
  const clashes: Clash[] = []
  const by = (lesson: Lesson) => new Map(lesson.stations.map((station) => [station.id, station as Station]))
  const [old, own, other] = [by(base), by(mine), by(theirs)]

  function chosen(id: string): Station | undefined {
    const [was, my, their] = [old.get(id), own.get(id), other.get(id)]
    if (same(my, their) || same(their, was)) return my
    if (same(my, was)) return their
    clashes.push({ id, title: (my ?? their)?.title ?? id, mine: my, theirs: their })
    return my ?? their
  }

  const order = same(idsOf(theirs), idsOf(base)) ? idsOf(mine) : idsOf(theirs)
  for (const lesson of [mine, theirs])
    idsOf(lesson).forEach((id, k, ids) => {
      if (!order.includes(id)) order.splice(order.indexOf(ids[k - 1] ?? '') + 1, 0, id)
    })
  const stations = order.map(chosen).filter((station): station is Station => station !== undefined)
  return { lesson: { ...heading(base, mine, theirs, clashes), stations } as Lesson, clashes }
}

function idsOf(lesson: Lesson): string[] {
  return lesson.stations.map((station) => station.id)
}

/** What is said of the whole lesson, field by field. */
function heading(base: Lesson, mine: Lesson, theirs: Lesson, clashes: Clash[]): Record<string, unknown> {
  const parts = ([base, mine, theirs] as unknown[]).map((lesson) => lesson as Record<string, unknown>)
  const [was, my, their] = parts as [Record<string, unknown>, Record<string, unknown>, Record<string, unknown>]
  const found: Record<string, unknown> = {}
  let clash = false
  for (const name of Object.keys({ ...their, ...my })) {
    if (name === 'stations') continue
    const mineOnly = same(their[name], was[name])
    found[name] = mineOnly || !same(my[name], was[name]) ? my[name] : their[name]
    if (!mineOnly && !same(my[name], was[name]) && !same(my[name], their[name])) clash = true
  }
  if (clash) clashes.unshift({ id: '', title: '', mine: undefined, theirs: undefined })
  return found
}

/** The merged lesson with their version of one station (or of what is said of the whole lesson) instead. */
export function withTheirs(lesson: Lesson, theirs: Lesson, clash: Clash): Lesson {
  if (!clash.id) return { ...theirs, stations: lesson.stations }
  const stations = lesson.stations
    .map((station) => (station.id === clash.id ? clash.theirs : station))
    .filter((station): station is Station => station !== undefined)
  return { ...lesson, stations: stations.length ? stations : lesson.stations } as Lesson
}
