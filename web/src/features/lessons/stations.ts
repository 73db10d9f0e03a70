import type { Station } from '@/features/lessons/draft'

export type Kind = Station['kind']
export const KINDS: Kind[] = ['explain', 'show', 'measure', 'judge', 'conclude']

/** A name that no station has yet. */
export function freshId(kind: Kind, taken: string[]): string {
  let n = 1
  while (taken.includes(`${kind}-${n}`)) n += 1
  return `${kind}-${n}`
}

/** A new station never starts empty: it shows or asks something at once. */
export function newStation(kind: Kind, title: string, taken: string[]): Station {
  const base = { id: freshId(kind, taken), title, text: '' }
  switch (kind) {
    case 'explain':
      return { ...base, kind, drawing: 'narrowband' }
    case 'show':
      return { ...base, kind, channels: ['maf', 'total_trim', 'ho2s_b1s1_v'], show_good: true, focus: null }
    case 'measure':
      return {
        ...base,
        kind,
        reading: { condition: 'hot_idle', channel: 'maf', stat: 'mean' },
        tolerance_percent: 5,
        faulty: true,
      }
    case 'judge':
      return {
        ...base,
        kind,
        count: 3,
        pool: [
          { condition: 'hot_idle', channel: 'maf', stat: 'mean' },
          { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
          { condition: 'cruise_80', channel: 'total_trim', stat: 'mean' },
          { condition: 'hot_idle', channel: 'ect', stat: 'mean' },
        ],
      }
    case 'conclude':
      return {
        ...base,
        kind,
        readings: [
          { condition: 'hot_idle', channel: 'total_trim', stat: 'mean' },
          { condition: 'cruise_80', channel: 'total_trim', stat: 'mean' },
          { condition: 'wot_pull', channel: 've', stat: 'mean' },
        ],
        causes: [
          { kind: 'maf_under_read', params: { gain: 0.85 }, onset: { mode: 'permanent' } },
          { kind: 'manifold_vacuum_leak', params: { area_mm2: 2 }, onset: { mode: 'permanent' } },
          null,
        ],
      }
  }
}

/** The stations with one of them moved a step up (-1) or down (+1); unchanged at the ends. */
export function moved(stations: Station[], index: number, step: -1 | 1): Station[] {
  const target = index + step
  if (target < 0 || target >= stations.length) return stations
  const next = [...stations]
  const [station] = next.splice(index, 1)
  if (station) next.splice(target, 0, station)
  return next
}
