import type { Station } from '@/parts/stations/kind'

/** The stations with the one at `from` standing at `to`; unchanged where there is no such place. */
export function placed(stations: Station[], from: number, to: number): Station[] {
  const next = [...stations]
  if (to < 0 || to >= stations.length) return stations
  const [station] = next.splice(from, 1)
  if (station) next.splice(to, 0, station)
  return next
}

/** What stands in for a channel that an engine has not. */
const ALWAYS = ['rpm', 'ect']

/**
 * A new station on an engine and a drive that may lack what it begins with: conditions that do not occur become the first one
 * that does, channels that the engine has not go, and what is asked twice then is asked once.
 */
export function adapted(station: Station, conditions: string[], channels: string[]): Station {
  const known = (name: string) => channels.includes(name)
  const stand = ALWAYS.find(known) ?? channels[0] ?? ''
  const here = (name: string) => (conditions.includes(name) ? name : (conditions[0] ?? name))
  const once = (entries: unknown[]) => [...new Map(entries.map((entry) => [JSON.stringify(entry), entry])).values()]
  const walk = (value: unknown, key = ''): unknown => {
    if (Array.isArray(value)) {
      if (key !== 'channels') return once(value.map((entry) => walk(entry)))
      const left = value.filter(known)
      return left.length ? left : [stand]
    }
    if (typeof value === 'string' && ['condition', 'complaint'].includes(key)) return here(value)
    if (typeof value === 'string' && key === 'channel') return known(value) ? value : stand
    if (value === null || typeof value !== 'object') return value
    return Object.fromEntries(Object.entries(value).map(([name, part]) => [name, walk(part, name)]))
  }
  return conditions.length && channels.length ? (walk(station) as Station) : station
}
