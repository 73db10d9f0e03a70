// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { actsOf, answersOf, useCautions, type Caution } from '@/features/bench/live/cautions'

const snap: Caution = {
  id: 'free_revs',
  words: 'It can move.',
  at: ['do:snap'],
  measures: { right: 'chocks', wrong: ['brake', 'clutch'] },
}
const plug: Caution = { id: 'plug', words: 'Key off.', at: ['do:pull_plug', 'part:maf'], measures: null }

describe('cautions where the act is', () => {
  beforeEach(() => localStorage.clear())
  const used = () => useCautions(ref([snap, plug]), 'named')

  it('stand at their acts', () => {
    expect(used().words(['do:pull_plug'])).toEqual(['Key off.'])
    expect(used().words(['part:maf', 'do:snap'])).toEqual(['It can move.', 'Key off.'])
  })

  it('stop what can hurt somebody until the measure is named, once', async () => {
    const cautions = used()
    const first = cautions.mayGoOn(['do:snap'])
    expect(cautions.asked.value?.caution.id).toBe('free_revs')
    cautions.asked.value?.go(true)
    expect(await first).toBe(true)
    expect(await cautions.mayGoOn(['do:snap'])).toBe(true)
    expect(await used().mayGoOn(['do:snap'])).toBe(true)
  })

  it('keep the act from going on where nobody names it, and ask again', async () => {
    const cautions = used()
    for (let k = 0; k < 2; k += 1) {
      const going = cautions.mayGoOn(['do:snap'])
      cautions.asked.value?.go(false)
      expect(await going).toBe(false)
    }
  })

  it('let everything else go on at once', async () => {
    expect(await used().mayGoOn(['do:pull_plug'])).toBe(true)
  })

  it('ask in an order that tells nothing', () => {
    expect(answersOf(snap)).toEqual(['brake', 'chocks', 'clutch'])
  })

  it('know the acts of a doing, and that undoing is none', () => {
    expect(actsOf({ do: 'close_hose', hose: 'air duct' })).toEqual(['do:close_hose', 'hose:air duct'])
    expect(actsOf({ do: 'turn_key', to: 'off' })).toEqual([])
    expect(actsOf({ do: 'turn_key', to: 'start' })).toEqual(['do:turn_key'])
    expect(actsOf({ do: 'connect_charger', on: false })).toEqual([])
  })
})
