import { describe, expect, it } from 'vitest'
import { CATALOGUE } from '@/testing/mounted'
import { drawn, familyOf, worded } from '@/features/bench/slips/reading'

const quantities = new Map(CATALOGUE.quantities.map((quantity) => [quantity.id, quantity]))
const entry = {
  id: 'maf',
  label: 'Flow',
  value: 2.5,
  quantity: 'mass_flow',
  unit: 'g/s',
  text: '',
  step: 0.01,
  sealed: '',
}

describe('what an instrument shows', () => {
  it("has the instrument's own digits, in the person's unit", () => {
    expect(worded(entry, quantities, 'metric')).toEqual({ value: '2.50', unit: 'g/s' })
    expect(worded({ ...entry, step: 0.5 }, quantities, 'metric').value).toBe('2.5')
    expect(worded({ ...entry, value: 40, step: 1 }, quantities, 'metric').value).toBe('40')
    expect(worded(entry, quantities, 'imperial')).toEqual({ value: '0.33', unit: 'lb/min' })
  })

  it('is told in words where it is no number', () => {
    expect(worded({ ...entry, value: null, text: 'black and dry' }, quantities, 'metric')).toEqual({
      value: 'black and dry',
      unit: '',
    })
  })

  it('is a bare number where it has no unit', () => {
    const bare = { ...entry, quantity: 'ratio', unit: '-', value: 0.123456 }
    expect(worded(bare, quantities, 'metric')).toEqual({ value: '0.1235', unit: '' })
    expect(worded({ ...bare, text: '4 of 10' }, quantities, 'metric').value).toBe('4 of 10')
  })
})

it("draws a trace in the person's unit, with its gaps", () => {
  const trace = { id: 'maf', label: 'Flow', quantity: 'mass_flow', seconds: [0, 1], values: [10, null] }
  const found = drawn(trace, quantities, 'imperial')
  expect(found.unit).toBe('lb/min')
  expect(found.values[0]).toBeCloseTo(1.32277, 5)
  expect(found.values[1]).toBeNull()
})

it('gives a trace the colour of its channel', () => {
  const channels = new Map(CATALOGUE.channels.map((channel) => [channel.id, channel]))
  expect(familyOf('maf', channels)).toBe('airflow')
  expect(familyOf('something else', channels)).toBe('position')
})
