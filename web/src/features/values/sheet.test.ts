import { describe, expect, it } from 'vitest'
import type { Channel } from '@/api/catalogue'
import type { Schemas } from '@/api/client'
import { areApart, barsOf, rowsOf } from '@/features/values/sheet'
import { CATALOGUE } from '@/testing/mounted'

const channels = new Map(CATALOGUE.channels.map((entry) => [entry.id, entry as Channel]))
const quantities = new Map(CATALOGUE.quantities.map((entry) => [entry.id, entry]))

function sheet(low: number, high: number): Schemas['ValuesOut'] {
  const band = { low, high, median: (low + high) / 2 }
  const quantity = channels.get('maf')?.quantity ?? ''
  const rows = [{ channel: 'maf', quantity, stats: { mean: band, min: band }, width: 'spread' }]
  return { members: 200, kpa: 101.3, estimated: false, conditions: ['hot_idle'], rows }
}
const asked = { own: [], condition: 'hot_idle', layer: 'scan' }

describe('a value sheet', () => {
  it('shows the band of a layer in the digits of its display, other statistics behind it', () => {
    const [row] = rowsOf({ ...asked, here: sheet(1.706, 1.919) }, channels, quantities, 'metric')
    expect(row?.band).toBe('1.71 … 1.92')
    expect(row?.more).toEqual([{ stat: 'min', band: '1.71 … 1.92' }])
    expect(row?.bars).toEqual([])
    expect(rowsOf({ ...asked, layer: 'pin', here: sheet(1, 2) }, channels, quantities, 'metric')).toEqual([])
  })

  it('says once what all sound engines show alike', () => {
    const [row] = rowsOf({ ...asked, here: sheet(1.801, 1.803) }, channels, quantities, 'metric')
    expect(row?.band).toBe('1.80')
  })

  it('knows a state, which is told in words', () => {
    const row = (means: Record<string, string>) => {
      const known = new Map([...quantities].map(([id, entry]) => [id, { ...entry, means }]))
      const whole = new Map([...channels].map(([id, entry]) => [id, { ...entry, digits: 0 }]))
      return rowsOf({ ...asked, here: sheet(2, 2) }, whole, known, 'metric')[0]
    }
    expect(row({ '2': 'closed loop' })).toMatchObject({ band: '2 (closed loop)', inWords: true })
    expect(row({})).toMatchObject({ band: '2', inWords: false })
  })

  it('tells where another engine and a service value have nothing in common with it', () => {
    const own = {
      id: 1,
      condition: 'hot_idle',
      channel: 'maf',
      low: 1.8,
      high: 2.1,
      source: 'x',
      made_at: '',
      made_by: '',
      vehicle: '',
    }
    const [row] = rowsOf(
      { ...asked, here: sheet(1.7, 1.9), other: sheet(3, 4), own: [own] },
      channels,
      quantities,
      'metric',
    )
    expect(row?.other).toEqual({ band: '3.00 … 4.00', mean: undefined, apart: true })
    expect(row?.own?.apart).toBe(false)
    expect(row?.bars.map(({ kind }) => kind)).toEqual(['here', 'other'])
  })

  it('shows of a signal that swings where it goes to and fro, and its mean behind it', () => {
    const front = { ...(channels.get('maf') as Channel), id: 'front', swings: true }
    const band = (low: number, high: number) => ({ low, high, median: (low + high) / 2 })
    const stats = { mean: band(4.6, 4.9), min: band(0.7, 1.2), max: band(8.1, 8.7) }
    const here = { ...sheet(0, 1), rows: [{ channel: 'front', quantity: front.quantity, stats, width: '' }] }
    const known = new Map([['front', front]])
    const [row] = rowsOf({ ...asked, here, other: here }, known, quantities, 'metric')
    expect(row).toMatchObject({ band: '0.70 … 8.70', mean: '4.60 … 4.90', median: '4.75' })
    expect(row?.other).toEqual({ band: '0.70 … 8.70', mean: '4.60 … 4.90', apart: false })
    const steady = new Map([['front', { ...front, swings: false }]])
    expect(rowsOf({ ...asked, here }, steady, quantities, 'metric')[0]).toMatchObject({ band: '4.60 … 4.90' })
  })

  it('leaves a service value of another condition out', () => {
    const own = {
      id: 1,
      condition: 'koeo',
      channel: 'maf',
      low: 0,
      high: 1,
      source: 'x',
      made_at: '',
      made_by: '',
      vehicle: '',
    }
    expect(rowsOf({ ...asked, here: sheet(1, 2), own: [own] }, channels, quantities, 'metric')[0]?.own).toBeUndefined()
  })
})

describe('bars', () => {
  it('share one scale', () => {
    const one = { low: 0, high: 5, median: 2, kind: 'here' as const }
    const two = { low: 5, high: 10, median: 7, kind: 'other' as const }
    expect(barsOf([one, two])).toEqual([
      { from: 0, to: 0.5, kind: 'here' },
      { from: 0.5, to: 1, kind: 'other' },
    ])
    expect(barsOf([one])).toEqual([])
  })
  it('are apart only without a common value', () => {
    expect(areApart({ low: 0, high: 1 }, { low: 1, high: 2 })).toBe(false)
    expect(areApart({ low: 0, high: 1 }, { low: 1.1, high: 2 })).toBe(true)
  })
})
