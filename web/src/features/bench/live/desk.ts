import { ref, watch, type Ref } from 'vue'
import type { Kept } from '@/features/bench/slips/reading'

/** An instrument that lies on the desk. `tips`: where a multimeter's leads were put on the drawn circuit. */
export interface Slip {
  key: number
  id: string
  place?: string
  wire?: string
  tips?: Tips
}
export interface Tips {
  red?: string
  black?: string
}

interface Desk {
  lanes: string[]
  slips: Slip[]
  kept: Kept[]
}

/** What lies around a bench on this device: chosen lanes, instruments in use, kept readings. It is there again after a reload. */
export function useDesk(bench: number): { [Part in keyof Desk]: Ref<Desk[Part]> } {
  const name = `bench ${bench} desk`
  const found = read(name)
  const desk = { lanes: ref(found.lanes), slips: ref(found.slips), kept: ref(found.kept) as Ref<Kept[]> }
  watch(
    [desk.lanes, desk.slips, desk.kept],
    ([lanes, slips, kept]) => {
      try {
        localStorage.setItem(name, JSON.stringify({ lanes, slips, kept }))
      } catch {
        // A full or forbidden store: it lasts as long as the page does.
      }
    },
    { deep: true },
  )
  return desk
}

function read(name: string): Desk {
  const empty = { lanes: [], slips: [], kept: [] }
  try {
    return { ...empty, ...(JSON.parse(localStorage.getItem(name) ?? '{}') as Partial<Desk>) }
  } catch {
    return empty
  }
}
