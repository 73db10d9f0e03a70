import type { Schemas } from '@/api/client'

export type Lanes = Schemas['LanesOut']
export type Window = Schemas['WindowOut']
export type Range = [number, number]

/** Width of a lane's label column, of its scale, and of the readings column. [px] */
export const LABEL_WIDTH = 118
export const SCALE_WIDTH = 50
export const READING_WIDTH = 236

/** Index of the point nearest to a time; times ascend. */
export function indexAt(time: readonly number[], wanted: number): number {
  let low = 0
  let high = time.length - 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if ((time[middle] ?? 0) <= wanted) low = middle
    else high = middle
  }
  return wanted - (time[low] ?? 0) <= (time[high] ?? 0) - wanted ? low : high
}

/** The condition whose window holds a time. */
export function windowAt(windows: readonly Window[], time: number): Window | undefined {
  return windows.find((window) => time >= window.start && time <= window.end)
}

/** The window before or after a time, for stepping from condition to condition. */
export function neighbour(windows: readonly Window[], time: number, step: 1 | -1): Window | undefined {
  const ordered = [...windows].sort((a, b) => a.start - b.start)
  return step > 0
    ? ordered.find((window) => (window.start + window.end) / 2 > time + 0.05)
    : ordered.reverse().find((window) => (window.start + window.end) / 2 < time - 0.05)
}

/** A window with some room on both sides, within the script. */
export function around(window: Window, seconds: number): Range {
  const room = Math.max(0.6, (window.end - window.start) * 0.15)
  return [Math.max(0, window.start - room), Math.min(seconds, window.end + room)]
}

/** The stretch that a scale should fit: the condition that fills most of the view, so that its neighbours do not squash it; else all of the view. */
export function fitted(windows: readonly { start: number; end: number }[], range: Range): Range {
  const width = range[1] - range[0]
  const main = windows.find((w) => Math.min(w.end, range[1]) - Math.max(w.start, range[0]) > 0.6 * width)
  return main ? [Math.max(main.start, range[0]), Math.min(main.end, range[1])] : range
}

/** A range as wide as it is, moved to lie within the script. */
export function clamp(range: Range, seconds: number): Range {
  const width = Math.min(range[1] - range[0], seconds)
  const start = Math.min(Math.max(range[0], 0), seconds - width)
  return [start, start + width]
}

/** The view after a turn of the wheel over a lane: sideways (or with Shift) it moves, with Ctrl it zooms around the pointer; else the page scrolls. */
export function wheeled(range: Range, event: WheelEvent): Range | undefined {
  const lane = (event.target as HTMLElement).closest?.('.u-over')?.getBoundingClientRect()
  if (!lane || !lane.width) return undefined
  const span = range[1] - range[0]
  if (event.ctrlKey || event.metaKey) {
    const share = (event.clientX - lane.left) / lane.width
    const next = Math.max(span * Math.exp(event.deltaY / 300), 0.2)
    const start = range[0] + share * (span - next)
    return [start, start + next]
  }
  const sideways = event.shiftKey && !event.deltaX ? event.deltaY : event.deltaX
  if (Math.abs(sideways) <= (event.shiftKey ? 0 : Math.abs(event.deltaY))) return undefined
  const by = (sideways / lane.width) * span
  return [range[0] + by, range[1] + by]
}

type Values = readonly (number | null)[]

/** Points under one stroke of the pen above which a line would only be a blot. */
const CROWDED = 6
/** A signal is drawn by its edges where in so many of the strokes it crosses so much of the visible height. */
const SWINGING_STROKES = 0.4
const SWINGS = 0.1

/**
 * Lower and upper edge of a signal that swings too fast to be drawn as a line over this range: values per point, null outside the range.
 * Null altogether where a line can be seen.
 */
export function envelope(
  time: readonly number[],
  values: Values,
  range: Range,
  strokes: number,
): { low: (number | null)[]; high: (number | null)[] } | null {
  const first = time.findIndex((t) => t >= range[0])
  const after = time.findIndex((t) => t > range[1])
  const end = after < 0 ? time.length : after
  const size = Math.floor((end - first) / Math.max(strokes, 1))
  if (first < 0 || size < CROWDED) return null
  const low: (number | null)[] = time.map(() => null)
  const high: (number | null)[] = time.map(() => null)
  let bottom = Infinity
  let top = -Infinity
  const spans: number[] = []
  for (let start = first; start < end; start += size) {
    const here = values.slice(start, Math.min(start + size, end)).filter((value) => value !== null)
    if (!here.length) continue
    const least = Math.min(...here)
    const most = Math.max(...here)
    low.fill(least, start, Math.min(start + size, end))
    high.fill(most, start, Math.min(start + size, end))
    bottom = Math.min(bottom, least)
    top = Math.max(top, most)
    spans.push(most - least)
  }
  const swinging = spans.filter((span) => span > SWINGS * (top - bottom)).length
  return swinging > SWINGING_STROKES * spans.length ? { low, high } : null
}
