import { describe, expect, it } from 'vitest'
import { niceStep, pathOf, scaleOf } from '@/parts/explorer/axis'

describe('a scale', () => {
  it('has ticks at round numbers inside its ends', () => {
    expect(scaleOf([0, 0.93], 0, 100).ticks).toEqual([0, 0.5])
    expect(scaleOf([-40, 130], 0, 100).ticks).toEqual([0, 50, 100])
    expect(niceStep(4)).toBe(1)
  })
  it('gives a steady value room, so that it looks steady', () => {
    const scale = scaleOf([1, 1], 0, 100, 0.5)
    expect(scale.low).toBeCloseTo(0.75)
    expect(scale.at(1)).toBeCloseTo(50)
  })
  it('draws a line through its points', () => {
    expect(pathOf([0, 10], [5, 6])).toBe('M0.0 5.0L10.0 6.0')
  })
})
