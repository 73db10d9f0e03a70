// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { envelope, around, clamp, indexAt, neighbour, wheeled, windowAt } from '@/parts/lanes/geometry'

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

describe('the wheel over a lane', () => {
  function turn(init: WheelEventInit, on = 'u-over'): WheelEvent {
    const lane = document.createElement('div')
    lane.className = on
    lane.getBoundingClientRect = () => ({ left: 100, width: 400 }) as DOMRect
    const none = { deltaX: 0, deltaY: 0, shiftKey: false, ctrlKey: false, metaKey: false, clientX: 300 }
    return { ...none, ...init, target: lane as EventTarget } as WheelEvent
  }
  it('moves the view sideways by as much as the hand moves', () => {
    expect(wheeled([10, 20], turn({ deltaX: 40 }))).toEqual([11, 21])
    expect(wheeled([10, 20], turn({ deltaY: -40, shiftKey: true }))).toEqual([9, 19])
  })
  it('zooms around the pointer', () => {
    const [from, to] = wheeled([10, 20], turn({ deltaY: 300 * Math.LN2, ctrlKey: true })) ?? [0, 0]
    expect(to - from).toBeCloseTo(20)
    expect((from + to) / 2).toBeCloseTo(15)
  })
  it('lets the page scroll otherwise', () => {
    expect(wheeled([10, 20], turn({ deltaY: 40 }))).toBeUndefined()
    expect(wheeled([10, 20], turn({ deltaX: 40 }, 'elsewhere'))).toBeUndefined()
  })
})
