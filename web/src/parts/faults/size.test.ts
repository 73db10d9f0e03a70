import { describe, expect, it } from 'vitest'
import { POSITIONS, positionOf, sizeAt, stepName } from '@/parts/faults/size'

const hole = { low: 0.1, high: 40 }
const gain = { low: 0.5, high: 0.99 }
const offset = { low: -60, high: 60 }

describe('the size slider', () => {
  it.each([hole, gain, offset])('reaches both ends of %o', (range) => {
    expect(sizeAt(0, range)).toBe(range.low)
    expect(sizeAt(POSITIONS, range)).toBe(range.high)
  })
  it('gives small holes as much room as large ones', () => {
    expect(positionOf(2, hole)).toBeGreaterThan(0.4 * POSITIONS)
  })
  it.each([
    [2, hole],
    [0.85, gain],
    [-25, offset],
  ])('stands where %d is and gives it back', (value, range) => {
    expect(sizeAt(positionOf(value, range), range)).toBeCloseTo(value, 1)
  })
})

describe('a handle of the size', () => {
  const names = ['small', 'medium', 'large']
  it.each([
    [
      [1, 2, 4],
      ['small 1', 'medium 2', 'large 4'],
    ],
    [
      [-5, -10, -20],
      ['small −5', 'medium −10', 'large −20'],
    ],
    [
      [-10, -25, 25],
      ['−10', '−25', '+25'],
    ],
  ])('of %o says %o', (steps, said) => {
    expect(steps.map((_, k) => stepName(steps, k, names))).toEqual(said)
  })
})
