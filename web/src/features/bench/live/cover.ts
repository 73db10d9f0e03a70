import type { Channel, Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import type { Cover } from '@/features/bench/live/line'

type Reach = Schemas['ReachOut']

/** What hands reach on an engine that keeps its secret. */
export function within(reach: Reach, cover: Cover): Reach {
  const may = (hand: string) => cover.hands.includes(hand)
  const station = (part: Schemas['StationOut']) => ({
    ...part,
    channels: [],
    hoses: may('hoses') ? part.hoses : [],
    parts: may('parts') ? part.parts : [],
    actuators: may('actuators') ? part.actuators : [],
  })
  return {
    ...reach,
    plugs: may('plugs') ? reach.plugs : [],
    hoses: may('hoses') ? reach.hoses : [],
    parts: may('parts') ? reach.parts : [],
    actuators: may('actuators') ? reach.actuators : [],
    instruments: reach.instruments.filter((entry) => cover.instruments.includes(entry.id)),
    way: { ...reach.way, parts: reach.way.parts.map(station), branches: reach.way.branches.map(station) },
  }
}

/** The engine with what a scan tool shows of it. */
export function shownOf(rig: Rig, channels: Map<string, Channel>): Rig {
  const seen = (name: string) => channels.get(name)?.layer === 'scan'
  const sensors = rig.sensors.map((sensor) => ({ ...sensor, channels: sensor.channels.filter(seen) }))
  return { ...rig, channels: rig.channels.filter(seen), sensors }
}
