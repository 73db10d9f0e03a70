import { ref } from 'vue'
import type { Station } from '@/parts/stations/kind'

const KEPT_UNDER = 'leitfaden.station'

function read(): Station | undefined {
  try {
    return JSON.parse(localStorage.getItem(KEPT_UNDER) ?? '') as Station
  } catch {
    return undefined
  }
}

/** The station that was copied last on this device; it can be put into any lesson. */
export const copied = ref<Station | undefined>(read())

export function copy(station: Station) {
  copied.value = station
  localStorage.setItem(KEPT_UNDER, JSON.stringify(station))
}
