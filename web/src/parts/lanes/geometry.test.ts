import { describe, expect, it } from 'vitest'
import { around, clamp, indexAt, neighbour, windowAt } from '@/parts/lanes/geometry'

const windows = [
  { condition: 'koeo', label: 'Key on', start: 1, end: 6, closed_loop: false },
  { condition: 'hot_idle', label: 'Hot idle', start: 90, end: 120, closed_loop: true },
]

describe('the cursor', () => {
  it('finds the nearest point', () => {
    expect(indexAt([0, 1, 2, 3], 1.4)).toBe(1)
    expect(indexAt([0, 1, 2, 3], 1.6)).toBe(2)
    expect(indexAt([0, 1, 2, 3], 99)).toBe(3)
  })
  it('knows in which condition it stands', () => {
    expect(windowAt(windows, 100)?.condition).toBe('hot_idle')
    expect(windowAt(windows, 50)).toBeUndefined()
  })
  it('steps from condition to condition', () => {
    expect(neighbour(windows, 50, 1)?.condition).toBe('hot_idle')
    expect(neighbour(windows, 50, -1)?.condition).toBe('koeo')
    expect(neighbour(windows, 105, 1)).toBeUndefined()
  })
})

describe('the range', () => {
  it('shows a condition with room around it, never outside the script', () => {
    expect(around(windows[0]!, 250)[0]).toBeGreaterThanOrEqual(0)
    expect(around(windows[1]!, 250)).toEqual([85.5, 124.5])
  })
  it('keeps its width when it is pushed against an end', () => {
    expect(clamp([240, 280], 250)).toEqual([210, 250])
  })
})
