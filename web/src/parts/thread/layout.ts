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
  /** A place without a sensor: drawn smaller. */
  minor?: boolean
}

/** Something that joins the thread at a knot, from the side. */
export interface Branch {
  id: string
  label: string
  sub: string
  /** The knot before which it joins. */
  at: string
  /** Closed off, or held by hand. */
  note?: string
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

export interface PlacedBranch extends Branch {
  /** Middle of its word above the thread, and where it joins. */
  x: number
  join: number
}

/** Branches stand side by side above the thread, around the knots at which they join, none over another. */
export function placeBranches(
  branches: Branch[],
  places: { id: string; x: number }[],
  width: number,
  room: number,
): PlacedBranch[] {
  const placed = branches
    .map((branch) => ({ ...branch, join: places.find((place) => place.id === branch.at)?.x ?? width / 2 }))
    .sort((a, b) => a.join - b.join)
    .map((branch, _k, all) => {
      const same = all.filter((other) => other.join === branch.join)
      return { ...branch, x: branch.join + (same.indexOf(branch) - (same.length - 1) / 2) * room }
    })
  const limit = (x: number) => Math.min(Math.max(x, room / 2), width - room / 2)
  placed.forEach((branch, k) => {
    branch.x = limit(branch.x)
    const before = placed[k - 1]
    if (before && branch.x - before.x < room) branch.x = before.x + room
  })
  for (let k = placed.length - 1; k >= 0; k -= 1) {
    const here = placed[k] as PlacedBranch
    const next = placed[k + 1]
    here.x = Math.min(here.x, next ? next.x - room : width - room / 2)
  }
  return placed
}
