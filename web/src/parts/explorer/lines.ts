import type { Schemas } from '@/api/client'
import type { Shown } from '@/parts/explorer/useDrawing'
import { inside } from '@/parts/prose/inside'

/** A displayed value along a condition as a line: where it has no value, the line goes on to the next. */
export function lineOf(trace: Schemas['Trace'], id: string): Shown['traces'][number] {
  const known = trace.values.flatMap((value, k) => (value === null ? [] : [[trace.seconds[k] ?? 0, value] as const]))
  return {
    id,
    label: `${trace.label}, ${inside(trace.condition)}`,
    quantity: trace.quantity,
    digits: 2,
    seconds: known.map(([second]) => second),
    values: known.map(([, value]) => value),
  }
}
