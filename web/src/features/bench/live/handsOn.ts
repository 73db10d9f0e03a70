import type { Doing, Vehicle } from '@/features/bench/live/line'

/** What hands find at a place. */
export interface Found {
  hoses: string[]
  actuators: string[]
  parts: string[]
}

/** What is clamped, held or exchanged by a press, and let go by another. */
export function handsOn(
  found: Found,
  vehicle: Vehicle,
): { label: string; entries: { name: string; on: boolean; doing: Doing }[] }[] {
  const entry = (name: string, on: boolean, doing: Doing, undo: Doing) => ({ name, on, doing: on ? undo : doing })
  return [
    {
      label: 'hoses',
      entries: found.hoses.map((hose) =>
        entry(hose, vehicle.closed.includes(hose), { do: 'close_hose', hose }, { do: 'open_hose', hose }),
      ),
    },
    {
      label: 'actuators',
      entries: found.actuators.map((actuator) =>
        entry(
          actuator,
          actuator in vehicle.held,
          { do: 'hold_actuator', actuator },
          { do: 'let_actuator_go', actuator },
        ),
      ),
    },
    {
      label: 'parts',
      entries: found.parts.map((part) =>
        entry(part, vehicle.parts.includes(part), { do: 'fit_part', part }, { do: 'put_part_back', part }),
      ),
    },
  ]
}
