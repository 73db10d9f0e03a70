import { describe, expect, it } from 'vitest'
import { envelope, around, clamp, indexAt, neighbour, windowAt } from '@/parts/lanes/geometry'

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

describe('signals that swing too fast for a line', () => {
  const time = Array.from({ length: 6000 }, (_, k) => k / 20)
  const switching = time.map((_, k) => (k % 4 < 2 ? 0.1 : 0.8))
  const climbing = time.map((t) => t + (Math.round(t * 20) % 2) * 0.5)

  it('are drawn by their edges over a long stretch, and by a line close up', () => {
    const found = envelope(time, switching, [0, 300], 400)
    expect(found?.low[1000]).toBe(0.1)
    expect(found?.high[1000]).toBe(0.8)
    expect(envelope(time, switching, [100, 110], 400)).toBeNull()
  })

  it('are told from a slow signal with a little noise on it', () => {
    expect(envelope(time, climbing, [0, 300], 400)).toBeNull()
  })

  it('have no edges where they have no values', () => {
    const gap = switching.map((value, k) => (k < 3000 ? null : value))
    const found = envelope(time, gap, [0, 300], 400)
    expect(found?.low[1000]).toBeNull()
    expect(found?.high[4000]).toBe(0.8)
    expect(
      envelope(
        time,
        time.map(() => null),
        [0, 300],
        400,
      ),
    ).toBeNull()
  })
})
