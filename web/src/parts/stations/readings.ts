import { useCatalogue } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { useTold } from '@/api/told'
import { converted, unitWithReference } from '@/format/units'

type Reading = Pick<Schemas['StationReading'], 'quantity' | 'digits' | 'value'>

/** Readings of stations in the person's units. */
export function useReadings() {
  const { quantities } = useCatalogue()
  const { told } = useTold()
  const unit = (reading: Reading) => unitWithReference(quantities.value.get(reading.quantity), units.value)
  const value = (reading: Reading) => told(reading.value, reading.quantity, reading.digits).text
  return {
    unit,
    value,
    withUnit: (reading: Reading) => `${value(reading)} ${unit(reading)}`,
    /** A size of a difference: the offset of a unit drops out. */
    difference: (size: number, reading: Reading) => {
      const quantity = quantities.value.get(reading.quantity)
      const wide = converted(size, quantity, units.value) - converted(0, quantity, units.value)
      return `${wide.toPrecision(2)} ${unit(reading)}`
    },
  }
}
