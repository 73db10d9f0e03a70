// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { finderOf, type Term } from '@/parts/terms/glossary'

const TERMS: Term[] = [
  {
    term: 'MAP',
    full: 'manifold absolute pressure',
    means: 'Pressure behind the throttle.',
    page: 'map_sensor',
    also: ['map sensor', 'load'],
  },
  { term: 'Total trim', full: 'both trims together', means: 'Not their sum.', page: '', also: [] },
  { term: 'Bias', full: 'voltage on its own pin', means: 'What an unplugged wire shows.', page: '', also: [] },
]
const found = (text: string) =>
  finderOf(TERMS)(text)
    .filter((piece) => piece.term)
    .map((piece) => piece.text)

describe('words of the glossary in a text', () => {
  it('are found as whole words, in any spelling of capitals but for abbreviations', () => {
    expect(found('MAP and total trim at idle')).toEqual(['MAP', 'total trim'])
    expect(found('a map of the town, mapped')).toEqual([])
    expect(found('The map sensor reads')).toEqual(['map sensor'])
    expect(found('biased')).toEqual([])
  })
  it('are marked once, and plain everyday words not at all', () => {
    expect(found('bias, bias and load')).toEqual(['bias'])
  })
  it('leave the text as it was', () => {
    const text = 'At idle MAP shows 33 kPa; the bias is 0.45 V.'
    expect(
      finderOf(TERMS)(text)
        .map((piece) => piece.text)
        .join(''),
    ).toBe(text)
  })
})
