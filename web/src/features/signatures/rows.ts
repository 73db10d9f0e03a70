import type { Channel } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { shown, unitWithReference } from '@/format/units'

type Departure = Schemas['DepartureOut']
type Quantities = ReadonlyMap<string, Schemas['QuantityOut']>

/** A value that leaves its band as it stands on the screen: where it does so most, and where else. */
export interface DepartureRow {
  channel: string
  condition: string
  label: string
  family: string
  stat: string
  value: string
  band: string
  unit: string
  away: string
  others: { condition: string; away: string }[]
}

/** More standard deviations than this say no more than that it is far out. */
const FAR = 20

/** Departures of a layer in the person's units, one row for each value. */
export function rowsOf(
  departures: readonly Departure[],
  layer: string,
  channels: ReadonlyMap<string, Channel>,
  quantities: Quantities,
  system: 'metric' | 'imperial',
): DepartureRow[] {
  const rows = new Map<string, DepartureRow>()
  for (const entry of departures.filter((one) => one.layer === layer)) {
    const known = rows.get(entry.channel)
    if (known) known.others.push({ condition: entry.condition, away: awayText(entry.deviations) })
    else rows.set(entry.channel, rowOf(entry, channels, quantities, system))
  }
  return [...rows.values()]
}

function rowOf(
  entry: Departure,
  channels: ReadonlyMap<string, Channel>,
  quantities: Quantities,
  system: 'metric' | 'imperial',
): DepartureRow {
  const channel = channels.get(entry.channel)
  const quantity = quantities.get(entry.quantity)
  const digits = entry.stat === 'freq' ? 1 : (channel?.digits ?? 2)
  const text = (value: number) => shown(value, quantity, digits, system).text
  return {
    channel: entry.channel,
    condition: entry.condition,
    label: channel?.label ?? entry.channel,
    family: channel?.family ?? 'position',
    stat: entry.stat,
    value: text(entry.value),
    band: `${text(entry.low)} … ${text(entry.high)}`,
    unit: unitWithReference(quantity, system),
    away: awayText(entry.deviations),
    others: [],
  }
}

/** How far away, with its side. */
export function awayText(deviations: number): string {
  const sign = deviations < 0 ? '−' : '+'
  return Math.abs(deviations) > FAR ? `${sign}>${FAR}` : `${sign}${Math.abs(deviations).toFixed(1)}`
}
