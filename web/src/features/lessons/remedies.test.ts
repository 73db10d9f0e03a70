import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { remedied, type Remedy } from '@/features/lessons/remedies'

function remedy(part: Partial<Remedy>): Remedy {
  return { says: 'do it', station: {}, lesson: {}, takes_out: false, behind: '', ...part }
}

function thread() {
  const stations = ['one', 'two', 'three'].map((id) => ({ kind: 'judge', id, title: id, count: 5 }))
  return { title: 'A lesson', cautions: [], stations } as unknown as Schemas['Lesson']
}

const ids = (lesson: Schemas['Lesson']) => lesson.stations.map((s) => s.id)

describe('a remedy', () => {
  it('changes its fields and keeps what was typed meanwhile', () => {
    const lesson = thread()
    lesson.stations[1]!.title = 'typed meanwhile'
    const made = remedied(lesson, lesson.stations[1]!.id, remedy({ station: { count: 3 } }))
    expect(made.stations[1]).toMatchObject({ title: 'typed meanwhile', count: 3 })
    expect(made.stations[0]).toBe(lesson.stations[0])
  })

  it('changes what holds for the lesson', () => {
    const lesson = thread()
    const made = remedied(lesson, lesson.stations[0]!.id, remedy({ lesson: { cautions: ['Hot.'] } }))
    expect(made.cautions).toEqual(['Hot.'])
  })

  it('takes a station out, but never the last one', () => {
    const lesson = thread()
    const [one, two, three] = ids(lesson)
    expect(ids(remedied(lesson, two!, remedy({ takes_out: true })))).toEqual([one, three])
    const alone = { ...lesson, stations: [lesson.stations[0]!] }
    expect(remedied(alone, one!, remedy({ takes_out: true }))).toBe(alone)
  })

  it('moves a station behind another', () => {
    const lesson = thread()
    const [one, two, three] = ids(lesson)
    expect(ids(remedied(lesson, one!, remedy({ behind: two! })))).toEqual([two, one, three])
  })
})
