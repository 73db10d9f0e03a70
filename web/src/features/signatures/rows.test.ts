import { describe, expect, it } from 'vitest'
import { awayText, rowsOf } from '@/features/signatures/rows'
import type { Channel } from '@/api/catalogue'

const channels = new Map([['map', { id: 'map', label: 'MAP', digits: 0, family: 'pressure' } as Channel]])
const quantities = new Map([
  [
    'pressure_abs',
    {
      id: 'pressure_abs',
      label: 'absolute pressure',
      metric: 'kPa',
      imperial: 'inHg',
      reference: 'absolute',
      means: {},
      units: [
        { symbol: 'kPa', factor: 1, offset: 0, extra_digits: 0, signed: false },
        { symbol: 'inHg', factor: 0.2953, offset: 0, extra_digits: 0, signed: false },
      ],
    },
  ],
])
const departure = {
  condition: 'hot_idle',
  channel: 'map',
  layer: 'scan',
  stat: 'mean',
  value: 40,
  low: 29,
  high: 33,
  deviations: 7.32,
  quantity: 'pressure_abs',
}

describe('what leaves its band', () => {
  it('stands in the person’s units with the digits of the display', () => {
    expect(rowsOf([departure], 'scan', channels, quantities, 'metric')[0]).toMatchObject({
      value: '40',
      band: '29 … 33',
      unit: 'kPa absolute',
      away: '+7.3',
    })
    expect(rowsOf([departure], 'scan', channels, quantities, 'imperial')[0]).toMatchObject({
      value: '12',
      band: '9 … 10',
    })
  })
  it('stands once, with the other conditions behind it', () => {
    const again = { ...departure, condition: 'cruise_80', deviations: -4 }
    const rows = rowsOf([departure, again], 'scan', channels, quantities, 'metric')
    expect(rows).toHaveLength(1)
    expect(rows[0]?.others).toEqual([{ condition: 'cruise_80', away: '−4.0' }])
  })
  it('keeps the layers apart', () => {
    expect(rowsOf([departure], 'truth', channels, quantities, 'metric')).toEqual([])
  })
  it('says no more than far where it is far', () => {
    expect(awayText(-251)).toBe('−>20')
    expect(awayText(-3.04)).toBe('−3.0')
  })
})
