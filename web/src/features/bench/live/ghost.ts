import type { Picture } from '@/features/bench/live/series'

/** A recording that is laid over what runs, its beginning at a time. */
export interface Ghost {
  id: number
  name: string
  /** [s] */
  offset: number
  time: number[]
  lanes: Record<string, (number | null)[]>
}

/** Its values in the place of the twin's, where it has the channel: at each point the last one known; none before and behind it. */
export function laidOver(picture: Picture, ghost: Ghost): Picture {
  const lanes = new Map(
    [...picture.lanes].map(([name, lane]) => {
      const values = ghost.lanes[name]
      return [name, values ? { ...lane, good: sampled(picture.time, ghost, values) } : { ...lane, good: [] }]
    }),
  )
  return { time: picture.time, lanes }
}

function sampled(time: number[], ghost: Ghost, values: (number | null)[]): (number | null)[] {
  let k = 0
  const end = ghost.time.at(-1) ?? 0
  return time.map((at) => {
    const own = at - ghost.offset
    if (own < (ghost.time[0] ?? 0) || own > end) return null
    while (k + 1 < ghost.time.length && (ghost.time[k + 1] ?? 0) <= own) k += 1
    return values[k] ?? null
  })
}
