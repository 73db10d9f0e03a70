import type { Channel } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { shown, unitWithReference } from '@/format/units'

type Departure = Schemas['DepartureOut']
type Quantities = ReadonlyMap<string, Schemas['QuantityOut']>

/** A departure as it stands on the screen. */
export interface DepartureRow {
  key: string
  condition: string
  label: string
  family: string
  stat: string
  value: string
  band: string
  unit: string
  away: string
}

/** More standard deviations than this say no more than that it is far out. */
const FAR = 20

/** Departures of a layer in the person's units. */
export function rowsOf(
  departures: readonly Departure[],
  layer: string,
  channels: ReadonlyMap<string, Channel>,
  quantities: Quantities,
  system: 'metric' | 'imperial',
): DepartureRow[] {
  return departures
    .filter((entry) => entry.layer === layer)
    .map((entry) => {
      const channel = channels.get(entry.channel)
      const quantity = quantities.get(entry.quantity)
      const digits = entry.stat === 'freq' ? 1 : (channel?.digits ?? 2)
      const text = (value: number) => shown(value, quantity, digits, system).text
      return {
        key: `${entry.condition} ${entry.channel}`,
        condition: entry.condition,
        label: channel?.label ?? entry.channel,
        family: channel?.family ?? 'position',
        stat: entry.stat,
        value: text(entry.value),
        band: `${text(entry.low)} … ${text(entry.high)}`,
        unit: unitWithReference(quantity, system),
        away: awayText(entry.deviations),
      }
    })
}

/** How far away, with its side. */
export function awayText(deviations: number): string {
  const sign = deviations < 0 ? '−' : '+'
  return Math.abs(deviations) > FAR ? `${sign}>${FAR}` : `${sign}${Math.abs(deviations).toFixed(1)}`
}
