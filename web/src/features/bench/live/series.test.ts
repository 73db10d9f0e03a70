import { describe, expect, it } from 'vitest'
import { readBlock, Series } from '@/features/bench/live/series'

/** A block as the server packs it: engine, then twin; in each the channels. */
function packed(first: number, between: number, rows: number[][], past = false): ArrayBuffer {
  const points = rows[0]?.length ?? 0
  const head = new Float64Array([past ? 1 : 0, 3, first, between, points, points * between])
  const bytes = new Uint8Array(48 + rows.length * points * 4)
  bytes.set(new Uint8Array(head.buffer))
  bytes.set(new Uint8Array(new Float32Array(rows.flat()).buffer), 48)
  return bytes.buffer
}

describe('what has been seen', () => {
  it('keeps values of engine and twin by channel, in the order of time', () => {
    const series = new Series(['rpm', 'maf'])
    series.append(
      readBlock(
        packed(0, 1, [
          [800, 801],
          [2, 2.5],
          [700, 701],
          [3, 3.5],
        ]),
      ),
    )
    series.append(readBlock(packed(2, 1, [[802], [2.75], [702], [NaN]])))
    expect(series.length).toBe(3)
    expect(series.end).toBe(3)
    expect(series.at(0.02).get('rpm')).toEqual([801, 701])
    expect(series.at(99).get('maf')).toEqual([2.75, null])
  })

  it('draws the extremes of a stretch, however few strokes there are', () => {
    const series = new Series(['rpm'])
    const run = Array.from({ length: 1000 }, (_, k) => (k === 417 ? 5000 : k === 801 ? -20 : 800))
    series.append(readBlock(packed(0, 1, [run, run])))
    const drawn = series.picture(0, 10, 20).lanes.get('rpm')?.run ?? []
    expect(drawn.length).toBeLessThanOrEqual(42)
    expect(Math.max(...(drawn as number[]))).toBe(5000)
    expect(Math.min(...(drawn as number[]))).toBe(-20)
  })

  it('joins the past with what came meanwhile, without doubling', () => {
    const meanwhile = new Series(['rpm'])
    meanwhile.append(
      readBlock(
        packed(98, 1, [
          [1, 2, 3, 4],
          [1, 2, 3, 4],
        ]),
      ),
    )
    const past = new Series(['rpm'])
    past.append(readBlock(packed(0, 10, [Array(10).fill(7), Array(10).fill(7)], true)))
    past.appendAfter(meanwhile, past.end * 0.01)
    expect(past.length).toBe(12)
    expect(past.at(99).get('rpm')).toEqual([4, 4])
    expect(past.end).toBe(102)
  })

  it('grows without losing anything', () => {
    const series = new Series(['rpm'])
    for (let k = 0; k < 30; k += 1)
      series.append(readBlock(packed(k * 500, 1, [Array(500).fill(k), Array(500).fill(-k)])))
    expect(series.length).toBe(15000)
    expect(series.at(72.0).get('rpm')).toEqual([14, -14])
    expect(series.grain(50)).toBeCloseTo(0.01)
  })
})
