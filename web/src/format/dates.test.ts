import { describe, expect, it } from 'vitest'
import { day, dayAndTime } from '@/format/dates'

describe('dates', () => {
  it('name the month, so that day and month cannot be confused', () => {
    expect(day('2026-03-02T10:00:00+01:00', 'en')).toBe('2 Mar 2026')
  })
  it('of recent moments carry the time on a 24-hour clock', () => {
    expect(dayAndTime('2026-03-02T17:30:00', 'en')).toMatch(/2 Mar.*17:30/)
  })
})
