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
  return quantity?.units.find((unit) => unit.symbol === symbol) ?? { symbol: '', factor: 1, offset: 0, extra_digits: 0 }
}

/** Digits after the point that a display step is worth: 0.01 has two, 0.78 one, 1 none. */
export function digitsOf(step: number): number {
  return step >= 1 ? 0 : Math.min(4, Math.ceil(-Math.log10(step) - 1e-9))
}

/** A kept value in the unit of the set, as a number. */
export function converted(value: number, quantity: Quantity | undefined, system: 'metric' | 'imperial'): number {
  const unit = unitOf(quantity, system)
  return value * unit.factor + unit.offset
}

/** A kept value as text with its unit, with as many digits as its display has. */
export function shown(
  value: number | null | undefined,
  quantity: Quantity | undefined,
  step: number,
  system: 'metric' | 'imperial',
): Shown {
  const unit = unitOf(quantity, system)
  const symbol = unit.symbol === '-' ? '' : unit.symbol
  if (value === null || value === undefined || Number.isNaN(value)) return { text: '–', unit: symbol }
  const digits = quantity?.id === 'speed' ? 0 : Math.max(0, digitsOf(step) + unit.extra_digits)
  const text = (value * unit.factor + unit.offset).toFixed(digits)
  // The sign of a trim is half of what it says; a minus sign has the width of a digit.
  const signed = quantity?.id === 'trim' && unit.symbol === '%' && Number(text) > 0 ? `+${text}` : text
  return { text: (Number(text) === 0 ? text.replace('-', '') : signed).replace('-', '−'), unit: symbol }
}

/** Unit with its reference spelled out where pressures could be confused: "kPa absolute". */
export function unitWithReference(quantity: Quantity | undefined, system: 'metric' | 'imperial'): string {
  const symbol = unitOf(quantity, system).symbol
  return quantity?.reference ? `${symbol} ${quantity.reference}` : symbol === '-' ? '' : symbol
}
