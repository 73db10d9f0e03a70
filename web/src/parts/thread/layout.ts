/** A knot on the thread: a sensor on its way, or a station of a lesson. */
export interface Knot {
  id: string
  label: string
  sub?: string
  value?: string
  unit?: string
  family?: string
  verdict?: string
  /** What else is to be said of the value, such as that the truth is another; an alarm stands out. */
  note?: string
  alarm?: boolean
  /** Values over time, drawn under the knot. */
  trace?: number[]
  /** Smallest height that the trace's scale covers, so that a steady value looks steady. */
  traceSpan?: number
  state?: 'open' | 'done' | 'locked' | ''
}

export interface Placed {
  x: number
  y: number
}

/** A trace as an SVG path in a box, up to and with the point `head`; the scale covers all of it and at least `span`. */
export function tracePath(
  values: readonly number[],
  head: number,
  width: number,
  height: number,
  span: number,
): string {
  const low = Math.min(...values)
  const high = Math.max(...values)
  const reach = Math.max(high - low, span, 1e-9)
  const middle = (low + high) / 2
  return values
    .slice(0, head + 1)
    .map((value, k) => {
      const x = (k / Math.max(values.length - 1, 1)) * width
      const y = height / 2 - ((value - middle) / reach) * (height - 4)
      return `${k ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`
    })
    .join('')
}

/** Knots sit alternately a little above and below the line, so that their labels do not touch. */
export function placeKnots(count: number, width: number, height: number, margin = 56): Placed[] {
  if (count === 1) return [{ x: width / 2, y: height / 2 }]
  const step = (width - 2 * margin) / (count - 1)
  return Array.from({ length: count }, (_, k) => ({ x: margin + k * step, y: height / 2 + (k % 2 ? 5 : -5) }))
}

/** One smooth line through all knots, from edge to edge: an S between each pair, flat at the knots. */
export function threadPath(knots: Placed[], width: number): string {
  const first = knots[0]
  if (!first) return ''
  let path = `M0 ${first.y} L${first.x} ${first.y}`
  for (let k = 1; k < knots.length; k += 1) {
    const from = knots[k - 1] as Placed
    const to = knots[k] as Placed
    const middle = (from.x + to.x) / 2
    path += ` C${middle} ${from.y} ${middle} ${to.y} ${to.x} ${to.y}`
  }
  const last = knots[knots.length - 1] as Placed
  return `${path} L${width} ${last.y}`
}
