import { describe, expect, it } from 'vitest'
import { emptyAnswer, missing, type StationView } from '@/parts/stations/answer'

const station = (kind: string, readings = 0): StationView => ({
  index: 0,
  id: 's',
  kind,
  title: '',
  text: '',
  drawing: 'none',
  channels: [],
  show_good: false,
  readings: Array.from({ length: readings }, () => ({}) as StationView['readings'][number]),
  causes: [],
  has_lanes: false,
  problem: '',
  focus: null,
})

describe('an answer', () => {
  it('of a judge station lacks something until every reading has a verdict', () => {
    const judge = station('judge', 2)
    const answer = emptyAnswer(judge)
    expect(missing(judge, answer)).toBe('verdicts')
    expect(missing(judge, { verdicts: ['good', null] })).toBe('verdicts')
    expect(missing(judge, { verdicts: ['good', 'faulty'] })).toBeUndefined()
  })
  it('of a measure station needs more than spaces', () => {
    expect(missing(station('measure'), { reading: '  ' })).toBe('reading')
    expect(missing(station('measure'), { reading: '1.9 g/s' })).toBeUndefined()
  })
  it('of a station to look at is complete at once', () => {
    expect(missing(station('show'), emptyAnswer(station('show')))).toBeUndefined()
  })
})
