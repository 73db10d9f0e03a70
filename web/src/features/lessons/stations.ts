import type { Station } from '@/parts/stations/kind'

/** The stations with one of them moved a step up (-1) or down (+1); unchanged at the ends. */
export function moved(stations: Station[], index: number, step: -1 | 1): Station[] {
  const target = index + step
  if (target < 0 || target >= stations.length) return stations
  const next = [...stations]
  const [station] = next.splice(index, 1)
  if (station) next.splice(target, 0, station)
  return next
}
