/** A moment of a bench, taken along to be worked out: all values are of one instant. */
export interface Moment {
  rig: string
  name: string
  seconds: number
  values: Record<string, number | null>
}

const KEPT = 'moment of a bench'

export function takeAlong(moment: Moment): void {
  sessionStorage.setItem(KEPT, JSON.stringify(moment))
}

export function takenAlong(): Moment | undefined {
  try {
    return JSON.parse(sessionStorage.getItem(KEPT) ?? 'null') ?? undefined
  } catch {
    return undefined
  }
}

interface Input {
  symbol: string
  unit: string
  channel: string
}

/** What a moment gives for the inputs of a calculation, as texts with units. */
export function filledFrom(moment: Moment, inputs: Input[]): Record<string, string> {
  return Object.fromEntries(
    inputs.flatMap(({ symbol, unit, channel }) => {
      const value = moment.values[channel]
      return channel && typeof value === 'number' ? [[symbol, `${value} ${unit === '-' ? '' : unit}`.trim()]] : []
    }),
  )
}
