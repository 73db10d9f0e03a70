import { describe, expect, it } from 'vitest'
import { laidOver } from '@/features/bench/live/ghost'

describe('a recording that is laid over', () => {
  const picture = {
    time: [10, 11, 12, 13, 14],
    lanes: new Map([
      ['rpm', { run: [1, 2, 3, 4, 5], good: [9, 9, 9, 9, 9] }],
      ['maf', { run: [1, 2, 3, 4, 5], good: [9, 9, 9, 9, 9] }],
    ]),
  }
  const ghost = { id: 1, name: 'x', offset: 11, time: [0, 1, 2], lanes: { rpm: [700, 800, null] } }

  it('takes the place of the twin from its beginning to its end', () => {
    const drawn = laidOver(picture, ghost)
    expect(drawn.lanes.get('rpm')?.good).toEqual([null, 700, 800, null, null])
    expect(drawn.lanes.get('rpm')?.run).toEqual([1, 2, 3, 4, 5])
  })

  it('leaves lanes that it has not without a thin line', () => {
    expect(laidOver(picture, ghost).lanes.get('maf')?.good).toEqual([])
  })
})
