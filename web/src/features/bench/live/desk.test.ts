// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'
import { useDesk } from '@/features/bench/live/desk'

/** A desk as a page has it that is left again. */
async function visited(bench: number, work: (desk: ReturnType<typeof useDesk>) => void) {
  const page = effectScope()
  const desk = page.run(() => useDesk(bench))!
  work(desk)
  await nextTick()
  page.stop()
}

describe('what lies around a bench', () => {
  beforeEach(() => localStorage.clear())
  afterEach(() => vi.unstubAllGlobals())

  it('is there again after a reload, for that bench only', async () => {
    await visited(7, ({ lanes, slips }) => {
      lanes.value = ['rpm', 'maf']
      slips.value.push({ key: 1, id: 'multimeter', place: 'battery' })
    })
    expect(useDesk(7).lanes.value).toEqual(['rpm', 'maf'])
    expect(useDesk(7).slips.value).toEqual([{ key: 1, id: 'multimeter', place: 'battery' }])
    expect(useDesk(8).lanes.value).toEqual([])
  })

  it('keeps what is changed in place', async () => {
    await visited(7, ({ slips }) => slips.value.push({ key: 1, id: 'multimeter' }))
    await visited(7, ({ slips }) => {
      slips.value[0]!.tips = { red: 'map.signal' }
    })
    expect(useDesk(7).slips.value[0]?.tips).toEqual({ red: 'map.signal' })
  })

  it.each(['{', 'null', '"lanes"'])('begins empty where what is kept cannot be read: %s', (text) => {
    localStorage.setItem('bench 7 desk', text)
    const { lanes, slips, kept } = useDesk(7)
    expect([lanes.value, slips.value, kept.value]).toEqual([[], [], []])
  })

  it('goes on where the device keeps nothing', async () => {
    const full = () => {
      throw new DOMException('full')
    }
    vi.stubGlobal('localStorage', { getItem: full, setItem: full })
    await expect(visited(7, ({ lanes }) => lanes.value.push('rpm'))).resolves.toBeUndefined()
  })
})
