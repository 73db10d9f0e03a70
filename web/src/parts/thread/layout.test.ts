import { describe, expect, it } from 'vitest'
import { placeKnots, threadPath, tracePath, placeBranches } from '@/parts/thread/layout'

describe('the thread', () => {
  it('spreads its knots evenly and keeps them inside', () => {
    const knots = placeKnots(5, 800, 60)
    const steps = knots.slice(1).map((knot, k) => knot.x - (knots[k]?.x ?? 0))
    expect(new Set(steps).size).toBe(1)
    expect(knots.every((knot) => knot.x >= 0 && knot.x <= 800)).toBe(true)
  })
  it('runs from edge to edge through every knot', () => {
    const knots = placeKnots(3, 600, 60)
    const path = threadPath(knots, 600)
    expect(path.startsWith('M0 ')).toBe(true)
    expect(path.endsWith(`L600 ${knots[2]?.y}`)).toBe(true)
    for (const knot of knots) expect(path).toContain(`${knot.x} ${knot.y}`)
  })
})

describe('the trace under a knot', () => {
  it('of a steady value is a line in the middle, however small its wiggle', () => {
    const path = tracePath([89, 89.2, 89], 2, 100, 40, 20)
    const heights = [...path.matchAll(/ ([\d.]+)/g)].map((m) => Number(m[1]))
    for (const y of heights) expect(Math.abs(y - 20)).toBeLessThan(1)
  })
  it('grows with its head', () => {
    expect(tracePath([1, 2, 3, 4], 1, 90, 40, 0).match(/[ML]/g)).toHaveLength(2)
  })
})

describe('branches', () => {
  const branch = (id: string, at: string) => ({ id, at, label: id, sub: '' })
  const places = [
    { id: 'map', x: 300 },
    { id: 'charge', x: 340 },
    { id: 'silencer', x: 590 },
  ]

  it('stand around the knot that they join', () => {
    const placed = placeBranches([branch('a', 'map'), branch('b', 'map')], places, 600, 100)
    expect(placed.map(({ x, join }) => [x, join])).toEqual([
      [250, 300],
      [350, 300],
    ])
  })

  it('never lie over each other and stay in the picture', () => {
    const placed = placeBranches(
      [...'abc'].map((id) => branch(id, 'silencer')).concat(branch('d', 'charge')),
      places,
      600,
      100,
    )
    const middles = placed.map(({ x }) => x)
    expect(Math.max(...middles)).toBeLessThanOrEqual(550)
    middles.slice(1).forEach((x, k) => expect(x - (middles[k] ?? 0)).toBeGreaterThanOrEqual(100))
  })
})
