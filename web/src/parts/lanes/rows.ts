import { computed } from 'vue'
import { useCatalogue, type Channel } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { units } from '@/api/session'
import { converter, shown, unitWithReference } from '@/format/units'
import type { Lanes } from '@/parts/lanes/geometry'

type Values = (number | null)[]

/** One lane as it is drawn, in the person's units; ``say`` words a value of it as the engine's own tool would. */
export interface Row {
  channel: Channel
  unit: string
  run: Values
  good: Values | null
  bands: { start: number; end: number; low: number; high: number }[]
  siblings: Channel[]
  say: (value: number | null | undefined) => string
}

/** Readings and healthy bands of a lane in one condition. */
export interface Here {
  reading?: Schemas['ReadingOut']
  band?: Schemas['BandOut']
}

/** Lanes in the person's units; the conversion itself is the catalogue's. */
export function useRows(
  lanes: () => Lanes,
  channels: () => string[],
  showGood: () => boolean,
  available: () => string[] | undefined,
) {
  const { channels: catalogue, quantities } = useCatalogue()

  function bandsOf(name: string, convert: (value: number | null) => number | null): Row['bands'] {
    return (lanes().bands ?? []).flatMap((band) => {
      const window = lanes().windows.find((w) => w.condition === band.condition)
      if (band.channel !== name || !window) return []
      return [{ start: window.start, end: window.end, low: convert(band.low) ?? 0, high: convert(band.high) ?? 0 }]
    })
  }

  function rowOf(name: string): Row[] {
    const channel = catalogue.value.get(name)
    const lane = lanes().lanes[name]
    if (!channel || !lane) return []
    // What the engine's own tool shows: trims of an older control unit are counts, not percent.
    const quantity = quantities.value.get(lanes().quantities[channel.id] ?? channel.quantity)
    const inUnit = converter(quantity, units.value)
    const convert = (value: number | null) => (value === null ? null : inUnit(value))
    const offered = available()
    return [
      {
        channel,
        unit: unitWithReference(quantity, units.value),
        run: lane.run.map(convert),
        good: showGood() ? (lane.good?.map(convert) ?? null) : null,
        bands: showGood() ? bandsOf(name, convert) : [],
        siblings: [...catalogue.value.values()].filter(
          (c) => c.measurand === channel.measurand && (!offered || offered.includes(c.id)),
        ),
        say: (value) => shown(value, quantity, channel.digits, units.value).text,
      },
    ]
  }

  function here(name: string, condition: string | undefined): Here {
    return {
      reading: lanes().readings?.find((r) => r.condition === condition && r.channel === name),
      band: showGood() ? (lanes().bands ?? []).find((b) => b.condition === condition && b.channel === name) : undefined,
    }
  }

  return { rows: computed(() => channels().flatMap(rowOf)), here }
}
