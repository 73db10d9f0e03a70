/** A scale from numbers to places on a drawing, with a little room at its ends. */
export interface Scale {
  low: number
  high: number
  at: (value: number) => number
  ticks: number[]
}

/** Round steps of 1, 2 or 5 that make about so many ticks. */
export function niceStep(span: number, ticks = 4): number {
  const rough = span / ticks
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].find((factor) => factor * power >= rough) ?? 10
  return step * power
}

export function scaleOf(values: number[], from: number, to: number, least = 0): Scale {
  let low = Math.min(...values)
  let high = Math.max(...values)
  if (high - low < least) {
    const middle = (low + high) / 2
    low = middle - least / 2
    high = middle + least / 2
  }
  if (high === low) {
    low -= low === 0 ? 0 : 1
    high += 1
  }
  const step = niceStep(high - low)
  const ticks: number[] = []
  for (let k = Math.ceil(low / step - 1e-9); k * step <= high + 1e-9 * step; k += 1)
    ticks.push(Number((k * step).toPrecision(12)))
  return { low, high, ticks, at: (value) => from + ((value - low) / (high - low)) * (to - from) }
}

/** A line through points as the path of an SVG. */
export function pathOf(xs: number[], ys: number[]): string {
  return xs.map((x, k) => `${k ? 'L' : 'M'}${x.toFixed(1)} ${(ys[k] ?? 0).toFixed(1)}`).join('')
}
