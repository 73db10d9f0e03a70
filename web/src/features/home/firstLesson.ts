import type { Schemas } from '@/api/client'

/** A new lesson is never empty: a car with a fault of middle size, and one station that shows it. */
export function firstLesson(): Schemas['Lesson'] {
  return {
    schema_version: 1,
    title: 'New lesson',
    goal: '',
    rig: 'R1',
    script: 'workshop_day',
    faults: [{ kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } }],
    cautions: [],
    stations: [
      {
        kind: 'show',
        id: 'first-look',
        title: 'First look',
        text: '',
        channels: ['maf', 'total_trim', 'ho2s_b1s1_v'],
        show_good: true,
        focus: null,
      },
    ],
  }
}
