// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { filledFrom, takeAlong, takenAlong } from '@/features/workings/moment'

describe('a moment of a bench', () => {
  const moment = { rig: 'R1', name: 'Library bus', seconds: 12.5, values: { maf: 2.5, iat: null, rpm: 720 } }

  it('is taken along', () => {
    expect(takenAlong()).toBeUndefined()
    takeAlong(moment)
    expect(takenAlong()).toEqual(moment)
  })

  it('fills the inputs that have a channel with a value, in the unit that is kept', () => {
    const inputs = [
      { symbol: 'maf', unit: 'g/s', channel: 'maf' },
      { symbol: 't', unit: '°C', channel: 'iat' },
      { symbol: 'L', unit: 'L', channel: '' },
      { symbol: 'n', unit: '-', channel: 'rpm' },
    ]
    expect(filledFrom(moment, inputs)).toEqual({ maf: '2.5 g/s', n: '720' })
  })
})
