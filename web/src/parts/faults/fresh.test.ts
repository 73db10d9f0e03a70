import { describe, expect, it } from 'vitest'
import type { FaultKind, Rig } from '@/api/catalogue'
import { choicesOf, fresh, sized } from '@/parts/faults/fresh'
import { grouped } from '@/parts/choice/groups'

const number = (id: string, steps: number[], more: object = {}) => ({
  ...{ id, steps, low: 0, high: 100, choices: [], called: {}, optional: false, depends_on: '', ranges: {} },
  ...more,
})
const pressure = {
  id: 'pressure_offset',
  parameters: [
    number('kPa', [2, 5, 10], { depends_on: 'sensor', ranges: { rail: { steps: [200, 500, 900], high: 5000 } } }),
    number('sensor', [], { choices: ['map', 'charge', 'rail'] }),
    number('later', [1], { optional: true }),
  ],
} as unknown as FaultKind
const rig = (sensors: string[]) => ({ faults: { pressure_offset: { sensor: sensors } } }) as unknown as Rig

describe('a fault that is newly put in', () => {
  it('has the first choice that the engine has, and the middle size that goes with it', () => {
    expect(fresh(rig(['map']), pressure)).toEqual({ sensor: 'map', kPa: 5 })
    expect(fresh(rig(['rail', 'map']), pressure)).toEqual({ sensor: 'rail', kPa: 500 })
  })

  it('leaves optional numbers to who wants them', () => {
    expect(fresh(rig(['map']), pressure)).not.toHaveProperty('later')
  })

  it('offers all choices as long as no engine is known', () => {
    expect(choicesOf(undefined, 'pressure_offset', pressure.parameters[1]!)).toEqual(['map', 'charge', 'rail'])
  })

  it('has the range of its own choice', () => {
    const [size] = pressure.parameters
    expect(sized(size!, { sensor: 'rail' }).high).toBe(5000)
    expect(sized(size!, { sensor: 'map' }).high).toBe(100)
    expect(sized(size!, {}).high).toBe(100)
  })
})

it('groups entries under their headings, both in the order in which they first come', () => {
  const found = grouped(
    ['b1', 'a1', 'b2'],
    (name) => name[0]!,
    (name) => ({ value: name, label: name.toUpperCase() }),
  )
  expect(found.map((group) => [group.label, group.entries.map((entry) => entry.label)])).toEqual([
    ['b', ['B1', 'B2']],
    ['a', ['A1']],
  ])
})
