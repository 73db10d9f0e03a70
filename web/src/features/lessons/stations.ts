import type { Station } from '@/parts/stations/kind'

/** The stations with the one at `from` standing at `to`; unchanged where there is no such place. */
export function placed(stations: Station[], from: number, to: number): Station[] {
  const next = [...stations]
  if (to < 0 || to >= stations.length) return stations
  const [station] = next.splice(from, 1)
  if (station) next.splice(to, 0, station)
  return next
}
