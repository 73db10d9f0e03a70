import { describe, expect, it } from 'vitest'
import type { Lesson } from '@/features/lessons/draft'
import { merged, withTheirs } from '@/features/lessons/merge'

function lesson(stations: Record<string, string>, title = 'L'): Lesson {
  return {
    title,
    stations: Object.entries(stations).map(([id, text]) => ({ kind: 'reflect', id, title: id, text, words: 1 })),
  } as unknown as Lesson
}
const texts = (made: Lesson) => Object.fromEntries(made.stations.map((s) => [s.id, s.text]))
const base = lesson({ a: '1', b: '1', c: '1' })

describe('two drafts of one lesson', () => {
  it('keep what each of two people has changed at different stations', () => {
    const made = merged(base, lesson({ a: '2', b: '1', c: '1' }), lesson({ a: '1', b: '1', c: '3' }))
    expect(texts(made.lesson)).toEqual({ a: '2', b: '1', c: '3' })
    expect(made.clashes).toEqual([])
  })

  it('tell a station that both have changed, with mine in its place until somebody chooses', () => {
    const theirs = lesson({ a: '3', b: '1', c: '1' })
    const made = merged(base, lesson({ a: '2', b: '1', c: '1' }), theirs)
    expect(made.clashes.map((clash) => clash.id)).toEqual(['a'])
    expect(texts(made.lesson).a).toBe('2')
    expect(texts(withTheirs(made.lesson, theirs, made.clashes[0]!)).a).toBe('3')
  })

  it('keep stations that either has added, and lose those that one has taken out and the other left alone', () => {
    const made = merged(base, lesson({ a: '1', x: 'new', b: '1', c: '1' }), lesson({ a: '1', b: '1', y: 'new' }))
    expect(Object.keys(texts(made.lesson))).toEqual(['a', 'x', 'b', 'y'])
    expect(made.clashes).toEqual([])
  })

  it('do not lose a station that one has changed and the other taken out', () => {
    const made = merged(base, lesson({ a: '2', b: '1', c: '1' }), lesson({ b: '1', c: '1' }))
    expect(texts(made.lesson).a).toBe('2')
    expect(made.clashes.map((clash) => clash.id)).toEqual(['a'])
  })

  it('take a new title from whoever has changed it, and tell when both have', () => {
    expect(merged(base, lesson(texts(base), 'Mine'), base).lesson.title).toBe('Mine')
    expect(merged(base, base, lesson(texts(base), 'Theirs')).lesson.title).toBe('Theirs')
    const both = merged(base, lesson(texts(base), 'Mine'), lesson(texts(base), 'Theirs'))
    expect(both.clashes.map((clash) => clash.id)).toEqual([''])
    expect(withTheirs(both.lesson, lesson(texts(base), 'Theirs'), both.clashes[0]!).title).toBe('Theirs')
  })
})
