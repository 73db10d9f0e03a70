// @vitest-environment happy-dom
import { defineComponent, h, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import type { Slip } from '@/features/bench/live/desk'
import { useTaken } from '@/features/bench/slips/taken'
import { mounted } from '@/testing/mounted'

const REACH = {
  instruments: [
    { id: 'multimeter', label: 'Multimeter' },
    { id: 'vacuum_gauge', label: 'Vacuum gauge' },
  ],
  plugs: [{ sensor: 'map', circuit: 'map_signal', wire: 'map signal', plug: 'map' }],
  parts: [{ sensor: 'map', name: 'MAP sensor' }],
} as unknown as Schemas['ReachOut']

/** A desk with some instruments on it; `allowed`: whether the measures of a further one are taken. */
function desk(lying: Slip[] = [], allowed = true, picked = '') {
  const slips = ref(lying)
  const asked: string[] = []
  let taken: ReturnType<typeof useTaken> | undefined
  mounted(
    defineComponent(() => {
      taken = useTaken(slips, ref(REACH), ref(picked), (id) => {
        asked.push(id)
        return Promise.resolve(allowed)
      })
      return () => h('i')
    }),
    {},
  )
  return { ...taken!, slips, asked }
}

describe('instruments of a bench', () => {
  it('that fit on the engine are offered', () => {
    expect(desk().groups.value[0]!.entries.map((entry) => entry.label)).toEqual(['Multimeter', 'Vacuum gauge'])
  })

  it('are laid in front of those that lie there, each with a key of its own', async () => {
    const { slips, take, asked } = desk([{ key: 4, id: 'vacuum_gauge' }])
    await take('multimeter')
    expect(slips.value.map((slip) => [slip.key, slip.id])).toEqual([
      [5, 'multimeter'],
      [4, 'vacuum_gauge'],
    ])
    expect(asked).toEqual(['multimeter'])
  })

  it('are put to the sensor that is open on the thread: to its part and to its plug', async () => {
    const { slips, take } = desk([], true, 'map')
    await take('multimeter')
    expect(slips.value[0]).toMatchObject({ place: 'MAP sensor', wire: 'map' })
  })

  it('stay where they are when their measures are not taken', async () => {
    const { slips, take, probe } = desk([], false)
    await take('multimeter')
    await probe({ red: 'map.signal' })
    expect(slips.value).toEqual([])
  })

  it('that do not fit on this engine are kept, but not shown', () => {
    const { slips, inUse } = desk([
      { key: 1, id: 'compression tester' },
      { key: 2, id: 'multimeter' },
    ])
    expect(inUse.value.map((slip) => slip.instrument.label)).toEqual(['Multimeter'])
    expect(slips.value).toHaveLength(2)
  })
})

describe('a lead on the drawn circuit', () => {
  it('takes a multimeter where none is out, and moves the other lead of the same one', async () => {
    const { slips, probe, asked } = desk()
    await probe({ red: 'map.signal' })
    await probe({ black: 'sensor ground' })
    expect(slips.value.map((slip) => slip.tips)).toEqual([{ red: 'map.signal', black: 'sensor ground' }])
    expect(asked).toEqual(['multimeter'])
  })
})
