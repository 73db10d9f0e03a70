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
