import { describe, expect, it } from 'vitest'
import type { Channel, Rig } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { shownOf, within } from '@/features/bench/live/cover'

const part = {
  id: 'purge',
  channels: ['purge_true'],
  hoses: ['purge hose'],
  parts: ['purge valve'],
  actuators: ['purge'],
}
const reach = {
  plugs: [{ circuit: 'map' }],
  hoses: ['purge hose'],
  parts: [{ name: 'purge valve' }],
  actuators: ['purge'],
  instruments: [{ id: 'multimeter' }, { id: 'smoke_generator' }],
  way: { order: ['purge'], parts: [part], branches: [part] },
} as unknown as Schemas['ReachOut']

describe('an engine that keeps its secret', () => {
  it('offers the hands and instruments that its station allows, at the parts too', () => {
    const seen = within(reach, { hands: ['hoses'], instruments: ['multimeter'] })
    expect(seen.hoses).toEqual(['purge hose'])
    expect([seen.plugs, seen.parts, seen.actuators]).toEqual([[], [], []])
    expect(seen.instruments.map((entry) => entry.id)).toEqual(['multimeter'])
    for (const there of [...seen.way.parts, ...seen.way.branches]) {
      expect(there.hoses).toEqual(['purge hose'])
      expect([there.parts, there.actuators]).toEqual([[], []])
    }
  })

  it('never tells what is true at a part', () => {
    const seen = within(reach, { hands: ['hoses', 'plugs', 'parts', 'actuators'], instruments: [] })
    expect([...seen.way.parts, ...seen.way.branches].flatMap((there) => there.channels)).toEqual([])
  })

  it('leaves the reach of others as it was', () => {
    within(reach, { hands: [], instruments: [] })
    expect(reach.way.parts[0]?.channels).toEqual(['purge_true'])
  })

  it('shows what a scan tool shows and nothing behind it', () => {
    const rig = { channels: ['maf', 'maf_true'], sensors: [{ id: 'maf', channels: ['maf', 'maf_true', 'maf_volts'] }] }
    const layers = { maf: 'scan', maf_true: 'truth', maf_volts: 'pin' }
    const known = new Map(Object.entries(layers).map(([id, layer]) => [id, { id, layer } as Channel]))
    const seen = shownOf(rig as Rig, known)
    expect(seen.channels).toEqual(['maf'])
    expect(seen.sensors.map((sensor) => sensor.channels)).toEqual([['maf']])
  })
})
