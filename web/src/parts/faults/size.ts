import type { Schemas } from '@/api/client'
import { tickText } from '@/format/units'

type Range = Pick<Schemas['ParameterOut'], 'low' | 'high'>

/** Steps of the slider over the whole range. */
export const POSITIONS = 400

/** Sizes over more than two decades go by ratio, so that small ones can be told apart; others go evenly. */
function byRatio({ low, high }: Range): boolean {
  return low > 0 && high / low > 50
}

/** Where a size stands on the slider. */
export function positionOf(value: number, range: Range): number {
  const { low, high } = range
  const share = byRatio(range)
    ? Math.log(Math.max(value, low) / low) / Math.log(high / low)
    : (value - low) / (high - low)
  return Math.round(Math.min(Math.max(share, 0), 1) * POSITIONS)
}

/** The size at a place of the slider, in two or three digits that a person would write. */
export function sizeAt(position: number, range: Range): number {
  const { low, high } = range
  const share = position / POSITIONS
  const exact = byRatio(range) ? low * (high / low) ** share : low + (high - low) * share
  const grain = 10 ** Math.floor(Math.log10(byRatio(range) ? Math.max(exact / 20, 1e-9) : (high - low) / 100))
  const rounded = Math.round(exact / grain) * grain
  return Number(Math.min(Math.max(rounded, low), high).toPrecision(6))
}

/** What a handle says: small, medium or large with its size; where sizes lie on both sides of none, on which. */
export function stepName(steps: number[], k: number, names: string[]): string {
  const size = steps[k] ?? 0
  if (steps.every((step) => step >= 0) || steps.every((step) => step <= 0)) return `${names[k]} ${tickText(size)}`
  return size > 0 ? `+${tickText(size)}` : tickText(size)
}
