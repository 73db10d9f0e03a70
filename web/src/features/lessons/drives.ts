import type { Catalogue } from '@/api/catalogue'
import type { Lesson } from '@/features/lessons/draft'

/** A drive that stations can run along, with the conditions that are read in it. */
export interface Drive {
  id: string
  name: string
  conditions: string[]
}

/** The drives of a lesson: its own, as from a bench, and the shipped ones. */
export function drivesOf(lesson: Lesson, catalogue: Catalogue | undefined): Drive[] {
  const own = (lesson.drives ?? []).map((script) => ({
    id: script.id,
    name: script.name,
    conditions: script.segments.flatMap((segment) => (segment.window ? [segment.window.condition] : [])),
  }))
  return [...own, ...(catalogue?.scripts ?? [])]
}
