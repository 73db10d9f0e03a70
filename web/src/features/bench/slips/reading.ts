import type { Schemas } from '@/api/client'
import type { Observation } from '@/features/bench/live/line'
import type { Channel } from '@/api/catalogue'
import { converter, shown, unitWithReference } from '@/format/units'

type Quantity = Schemas['QuantityOut']

/** Digits of an instrument's step, in the kept unit. */
function digitsOf(step: number): number {
  return step > 0 ? Math.max(0, Math.ceil(-Math.log10(step) - 1e-9)) : 2
}

/** Channels and pins have names that people read; other places are called as they are. */
export function placeWord(name: string, channels: Map<string, Channel>, words: Record<string, string>): string {
  return channels.get(name)?.label ?? words[name] ?? name
}

/** One thing that an instrument shows, in the person's units and with the digits that it has. */
export function worded(
  entry: Observation['shown'][number],
  quantities: Map<string, Quantity>,
  system: 'metric' | 'imperial',
): { value: string; unit: string } {
  if (entry.value === null) return { value: entry.text, unit: '' }
  const quantity = quantities.get(entry.quantity)
  if (!quantity || !entry.quantity || entry.quantity === 'ratio')
    return { value: entry.text || String(+entry.value.toPrecision(4)), unit: '' }
  const text = shown(entry.value, quantity, digitsOf(entry.step), system)
  return { value: text.text, unit: unitWithReference(quantity, system) || entry.unit }
}

/** A trace in the person's units. */
export function drawn(
  trace: Observation['traces'][number],
  quantities: Map<string, Quantity>,
  system: 'metric' | 'imperial',
) {
  const quantity = quantities.get(trace.quantity)
  const inUnit = converter(quantity, system)
  return {
    id: trace.id,
    label: trace.label,
    unit: unitWithReference(quantity, system),
    time: trace.seconds,
    values: trace.values.map((value) => (value === null ? null : inUnit(value))),
  }
}

/** Which family's colour a trace has, by the channel that it is of. */
export function familyOf(id: string, channels: Map<string, Channel>): string {
  return channels.get(id)?.family ?? 'position'
}

/** A reading that was kept, as it was worded then and as it was read. */
export interface Kept {
  label: string
  text: string
  where: string
  at: string
  reading?: Schemas['KeptIn']
  verdict?: Schemas['KeptVerdict']
}
