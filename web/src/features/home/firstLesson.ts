import type { Schemas } from '@/api/client'
import { newStation } from '@/parts/stations/kinds'

/** A new lesson is never empty: a car with a fault of middle size, and one station that shows it. */
export function firstLesson(): Schemas['Lesson'] {
  return {
    schema_version: 1,
    title: 'New lesson',
    goal: '',
    level: '',
    closed_book: false,
    rig: 'R1',
    script: 'workshop_day',
    drives: [],
    faults: [{ kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } }],
    or_else: [],
    cautions: [],
    stations: [newStation('show', 'First look', [])],
  }
}
