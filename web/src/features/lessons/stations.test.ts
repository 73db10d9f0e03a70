// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { adapted } from '@/features/lessons/stations'
import { newStation } from '@/parts/stations/kinds'

describe('a new station', () => {
  it('asks along the drive of the lesson and of what its engine has', () => {
    const made = adapted(newStation('judge', 'Judge', []), ['after_night'], ['rpm', 'ect', 'map'])
    expect(made).toMatchObject({
      pool: [
        { condition: 'after_night', channel: 'rpm', stat: 'mean' },
        { condition: 'after_night', channel: 'ect', stat: 'mean' },
      ],
    })
  })

  it('shows lanes that the engine has', () => {
    expect(adapted(newStation('show', 'Show', []), ['crank'], ['rpm', 'maf'])).toMatchObject({ channels: ['maf'] })
    expect(adapted(newStation('show', 'Show', []), ['crank'], ['rpm'])).toMatchObject({ channels: ['rpm'] })
  })

  it('stays as it is where everything is there', () => {
    const station = newStation('verify', 'Verify', [])
    const all = ['total_trim', 'ltft', 'maf', 'rpm', 've', 'ect']
    expect(adapted(station, ['hot_idle', 'cruise_80', 'wot_pull'], all)).toEqual(station)
  })
})
