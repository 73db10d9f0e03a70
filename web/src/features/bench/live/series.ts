/** What has been seen of some channels: points of time with values of the engine and of its twin. */

/** A block of values as it comes over the line; see server/benches/wire.py. */
export interface Block {
  past: boolean
  watch: number
  first: number
  between: number
  points: number
  frames: number
  /** Engine, then twin; in each the channels, each with its points. */
  values: Float32Array
}

const HEAD = 6
export const FRAME = 0.01

export function readBlock(data: ArrayBuffer): Block {
  const [kind, watch, first, between, points, frames] = new Float64Array(data, 0, HEAD)
  return {
    past: kind === 1,
    watch: watch ?? 0,
    first: first ?? 0,
    between: between ?? 1,
    points: points ?? 0,
    frames: frames ?? 0,
    values: new Float32Array(data, HEAD * 8),
  }
}

type Columns = Float32Array[]

/** Points of one kind, in the order of time, growing at the end. */
export class Series {
  private time = new Float64Array(4096)
  private columns: [Columns, Columns]
  length = 0
  /** Frame behind the last that is known. */
  end = 0

  constructor(readonly channels: string[]) {
    this.columns = [0, 1].map(() => channels.map(() => new Float32Array(4096))) as [Columns, Columns]
  }

  get start(): number {
    return this.length ? (this.time[0] ?? 0) : 0
  }

  append(block: Block): void {
    this.makeRoom(block.points)
    const n = this.channels.length
    for (let k = 0; k < block.points; k += 1)
      this.time[this.length + k] = (block.first + (k + 1) * block.between) * FRAME
    for (const engine of [0, 1] as const)
      for (let c = 0; c < n; c += 1) {
        const from = (engine * n + c) * block.points
        this.columns[engine][c]?.set(block.values.subarray(from, from + block.points), this.length)
      }
    this.length += block.points
    this.end = block.first + block.frames
  }

  /** Points behind a time of another series, which knows what was before. */
  appendAfter(other: Series, time: number): void {
    const from = other.indexAfter(time)
    const count = other.length - from
    this.makeRoom(count)
    this.time.set(other.time.subarray(from, other.length), this.length)
    for (const engine of [0, 1] as const)
      this.columns[engine].forEach((column, c) =>
        column.set(other.columns[engine][c]?.subarray(from, other.length) ?? [], this.length),
      )
    this.length += count
    this.end = Math.max(this.end, other.end)
  }

  /** The same, without what comes behind a time. */
  upTo(time: number): Series {
    const kept = new Series(this.channels)
    kept.appendAfter(this, -1)
    kept.length = kept.indexAfter(time)
    return kept
  }

  private makeRoom(points: number): void {
    let size = this.time.length
    if (this.length + points <= size) return
    while (size < this.length + points) size *= 2
    const grown = <T extends Float64Array | Float32Array>(old: T, next: T): T => {
      next.set(old.subarray(0, this.length))
      return next
    }
    this.time = grown(this.time, new Float64Array(size))
    this.columns = this.columns.map((columns) => columns.map((column) => grown(column, new Float32Array(size)))) as [
      Columns,
      Columns,
    ]
  }

  /** Index of the first point behind a time. */
  indexAfter(time: number): number {
    let low = 0
    let high = this.length
    while (low < high) {
      const middle = (low + high) >> 1
      if ((this.time[middle] ?? 0) <= time) low = middle + 1
      else high = middle
    }
    return low
  }

  /** Time between points around a time. [s] */
  grain(time: number): number {
    const k = Math.min(Math.max(this.indexAfter(time), 1), this.length - 1)
    return this.length < 2 ? Infinity : (this.time[k] ?? 0) - (this.time[k - 1] ?? 0)
  }

  /** Values at the last point not behind a time: [engine, twin] per channel. */
  at(time: number): Map<string, [number | null, number | null]> {
    const k = Math.max(this.indexAfter(time + 1e-6) - 1, 0)
    return new Map(
      this.channels.map((name, c) => [
        name,
        [defined(this.columns[0][c]?.[k]), defined(this.columns[1][c]?.[k])] as [number | null, number | null],
      ]),
    )
  }

  /** A picture of a stretch in no more than so many strokes, each with its lowest and highest value. */
  picture(from: number, to: number, strokes: number): Picture {
    const first = Math.max(this.indexAfter(from) - 1, 0)
    const last = Math.min(this.indexAfter(to) + 1, this.length)
    const count = Math.max(last - first, 0)
    const size = Math.max(Math.ceil(count / strokes), 1)
    const time: number[] = []
    for (let start = first; start < last; start += size) {
      const stop = Math.min(start + size, last)
      if (size === 1) time.push(this.time[start] ?? 0)
      else time.push(this.time[start] ?? 0, this.time[stop - 1] ?? 0)
    }
    const lanes = new Map(
      this.channels.map((name, c) => [
        name,
        {
          run: strokesOf(this.columns[0][c], first, last, size),
          good: strokesOf(this.columns[1][c], first, last, size),
        },
      ]),
    )
    return { time, lanes }
  }
}

export interface Picture {
  time: number[]
  lanes: Map<string, { run: (number | null)[]; good: (number | null)[] }>
}

function defined(value: number | undefined): number | null {
  return value === undefined || Number.isNaN(value) ? null : value
}

function strokesOf(column: Float32Array | undefined, first: number, last: number, size: number): (number | null)[] {
  const out: (number | null)[] = []
  if (!column) return out
  for (let start = first; start < last; start += size) {
    if (size === 1) {
      out.push(defined(column[start]))
      continue
    }
    const stop = Math.min(start + size, last)
    let low = NaN
    let high = NaN
    let lowAt = start
    let highAt = start
    for (let k = start; k < stop; k += 1) {
      const value = column[k] ?? NaN
      if (Number.isNaN(value)) continue
      if (!(value >= low)) [low, lowAt] = [value, k]
      if (!(value <= high)) [high, highAt] = [value, k]
    }
    if (lowAt <= highAt) out.push(defined(low), defined(high))
    else out.push(defined(high), defined(low))
  }
  return out
}
