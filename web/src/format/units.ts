import type { Schemas } from '@/api/client'

type Quantity = Schemas['QuantityOut']
type Unit = Schemas['UnitOut']

export interface Shown {
  text: string
  unit: string
}

/** The unit of a quantity in a person's set of units. */
export function unitOf(quantity: Quantity | undefined, system: 'metric' | 'imperial'): Unit {
  const symbol = quantity ? (system === 'metric' ? quantity.metric : quantity.imperial) : ''
  return (
    quantity?.units.find((unit) => unit.symbol === symbol) ?? {
      symbol: '',
      factor: 1,
      offset: 0,
      extra_digits: 0,
      signed: false,
    }
  )
}

/** A kept value in the unit of the set, as a number. */
export function converted(value: number, quantity: Quantity | undefined, system: 'metric' | 'imperial'): number {
  return converter(quantity, system)(value)
}

/** The same for many values: the unit is looked up once. */
export function converter(quantity: Quantity | undefined, system: 'metric' | 'imperial'): (value: number) => number {
  const { factor, offset } = unitOf(quantity, system)
  return (value) => value * factor + offset
}

/** A number in the unit of the set, as it is kept. */
export function kept(value: number, quantity: Quantity | undefined, system: 'metric' | 'imperial'): number {
  const { factor, offset } = unitOf(quantity, system)
  return (value - offset) / factor
}

/** A kept value as text with its unit, with so many digits as its display has in the unit that is kept. */
export function shown(
  value: number | null | undefined,
  quantity: Quantity | undefined,
  digits: number,
  system: 'metric' | 'imperial',
): Shown {
  const unit = unitOf(quantity, system)
  const symbol = unit.symbol === '-' ? '' : unit.symbol
  if (value === null || value === undefined || Number.isNaN(value)) return { text: '–', unit: symbol }
  const text = (value * unit.factor + unit.offset).toFixed(Math.max(0, digits + unit.extra_digits))
  // A minus sign has the width of a digit.
  const signed = unit.signed && Number(text) > 0 ? `+${text}` : text
  const number = (Number(text) === 0 ? text.replace('-', '') : signed).replace('-', '−')
  // A state is a number that means something: both are said.
  const means = quantity?.means[number]
  return { text: means ? `${number} (${means})` : number, unit: symbol }
}

/** A number beside an axis: as short as it can be, the same in every country, with a minus sign as wide as a digit. */
export function tickText(value: number): string {
  return String(Number(value.toPrecision(6))).replace('-', '−')
}

/** Unit with its reference spelled out where pressures could be confused: "kPa absolute". */
export function unitWithReference(quantity: Quantity | undefined, system: 'metric' | 'imperial'): string {
  const symbol = unitOf(quantity, system).symbol
  return quantity?.reference ? `${symbol} ${quantity.reference}` : symbol === '-' ? '' : symbol
}
