import type { Channel } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { converter, shown, unitWithReference } from '@/format/units'

type Quantity = Schemas['QuantityOut']
type Numbers = Schemas['NumbersOut']
type Stats = Schemas['ValueRow']['stats']
type System = 'metric' | 'imperial'

/** Air and petrol for which a sheet is wanted: [°C], [m], share of ethanol. */
export interface Air {
  celsius: number
  altitude: number
  ethanol: number
}
export const SCHOOL: Air = { celsius: 20, altitude: 0, ethanol: 0 }

/** A row as it is read, in the person's units. */
export interface Row {
  channel: Channel
  unit: string
  /** A state, told with what it means: longer than a number. */
  inWords: boolean
  /** Of a signal that swings from its lowest low to its highest high, since no moment of it is at the mean. */
  band: string
  /** Band of the mean, where `band` is another. */
  mean?: string
  median: string
  numbers: Numbers
  /** Where it lies, on a scale that all bands of the row share: 0 to 1. */
  bars: { from: number; to: number; kind: 'here' | 'school' | 'other' }[]
  other?: { band: string; mean?: string; apart: boolean }
  own?: Schemas['ServiceValueOut'] & { band: string; apart: boolean }
  more: { stat: string; band: string }[]
  width: string
}

/** Whether two bands have nothing in common. */
export function areApart(a: { low: number; high: number }, b: { low: number; high: number }): boolean {
  return a.high < b.low || b.high < a.low
}

/** Positions of some bands on the scale that holds them all; none where there is only one. */
export function barsOf(bands: (Numbers & { kind: Row['bars'][number]['kind'] })[]): Row['bars'] {
  if (bands.length < 2) return []
  const low = Math.min(...bands.map((band) => band.low))
  const span = Math.max(...bands.map((band) => band.high)) - low
  if (span <= 0) return []
  return bands.map(({ low: from, high: to, kind }) => ({ from: (from - low) / span, to: (to - low) / span, kind }))
}

export interface Asked {
  here: Schemas['ValuesOut']
  /** The same engine at the school, where `here` is elsewhere. */
  school?: Schemas['ValuesOut']
  other?: Schemas['ValuesOut']
  own: Schemas['ServiceValueOut'][]
  condition: string
  layer: string
}

/** Rows of a layer, ordered by family and name. */
export function rowsOf(
  asked: Asked,
  channels: Map<string, Channel>,
  quantities: Map<string, Quantity>,
  system: System,
): Row[] {
  const found = asked.here.rows.flatMap((row): Row[] => {
    const channel = channels.get(row.channel)
    const numbers = row.stats.mean
    if (!channel || !numbers || channel.layer !== asked.layer) return []
    const quantity = quantities.get(row.quantity)
    const say = (value: number) => shown(value, quantity, channel.digits, system).text
    const worded = (band: { low: number; high: number }) => {
      const [low, high] = [say(band.low), say(band.high)]
      return low === high ? low : `${low} … ${high}`
    }
    const seen = ({ mean, min, max }: Stats) =>
      channel.swings && min && max ? worded({ low: min.low, high: max.high }) : mean ? worded(mean) : ''
    /** Of a signal that swings: the band of its mean, by which engines are compared. */
    const meant = (mean: Numbers) => (channel.swings ? worded(mean) : undefined)
    const inUnit = converter(quantity, system)
    const same = (sheet?: Schemas['ValuesOut']) => sheet?.rows.find((other) => other.channel === row.channel)?.stats
    const school = same(asked.school)?.mean
    const beside = same(asked.other)
    const other = beside?.mean
    const own = asked.own.find((value) => value.channel === row.channel && value.condition === asked.condition)
    const drawn = [
      { ...numbers, kind: 'here' as const },
      ...(school ? [{ ...school, kind: 'school' as const }] : []),
      ...(other ? [{ ...other, kind: 'other' as const }] : []),
    ].map((band) => ({ ...band, low: inUnit(band.low), high: inUnit(band.high) }))
    return [
      {
        channel,
        unit: unitWithReference(quantity, system),
        inWords: Object.keys(quantity?.means ?? {}).length > 0,
        band: seen(row.stats),
        mean: meant(numbers),
        median: say(numbers.median),
        numbers,
        bars: barsOf(drawn),
        other: beside && other && { band: seen(beside), mean: meant(other), apart: areApart(numbers, other) },
        own: own && { ...own, band: worded(own), apart: areApart(numbers, own) },
        more: Object.entries(row.stats).flatMap(([stat, band]) =>
          stat === 'mean' ? [] : [{ stat, band: worded(band) }],
        ),
        width: row.width,
      },
    ]
  })
  const order = ['airflow', 'pressure', 'temperature', 'oxygen', 'position', 'fuelling']
  return found.sort(
    (a, b) =>
      order.indexOf(a.channel.family) - order.indexOf(b.channel.family) ||
      a.channel.label.localeCompare(b.channel.label),
  )
}
