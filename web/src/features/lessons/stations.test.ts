import { describe, expect, it } from 'vitest'
import { freshId, KINDS, moved, newStation } from '@/features/lessons/stations'

describe('stations of a draft', () => {
  it('get a name that no other station has', () => {
    expect(freshId('judge', ['judge-1', 'show-2'])).toBe('judge-2')
  })
  it('change places, and stay where they are at the ends', () => {
    const all = KINDS.map((kind) => newStation(kind, kind, []))
    expect(moved(all, 1, -1).map((s) => s.kind)[0]).toBe('show')
    expect(moved(all, 0, -1)).toEqual(all)
    expect(moved(all, all.length - 1, 1)).toEqual(all)
  })
  it.each(KINDS)('of kind %s ask or show something at once', (kind) => {
    const station = newStation(kind, 'Title', [])
    if (station.kind === 'judge') expect(station.pool.length).toBeGreaterThanOrEqual(station.count ?? 0)
    if (station.kind === 'conclude') expect(station.causes).toContain(null)
    expect(station.title).toBe('Title')
  })
})
