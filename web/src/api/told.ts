import { useCatalogue } from '@/api/catalogue'
import { units } from '@/api/session'
import { shown, type Shown } from '@/format/units'

type Value = number | null | undefined

/** Values as text in the person's units, by the catalogue. */
export function useTold() {
  const { channels, quantities } = useCatalogue()

  /** A value of a quantity. */
  const told = (value: Value, quantity: string | undefined, digits: number): Shown =>
    shown(value, quantities.value.get(quantity ?? ''), digits, units.value)

  /** What a channel displays. */
  function toldOf(name: string | undefined, value: Value): Shown {
    const channel = channels.value.get(name ?? '')
    return told(value, channel?.quantity, channel?.digits ?? 0)
  }

  return { told, toldOf }
}

/** Number and unit as one text. */
export function inOne({ text, unit }: Shown): string {
  return `${text} ${unit}`.trim()
}
