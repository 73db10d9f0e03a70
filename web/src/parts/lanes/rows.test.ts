// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest'
import { defineComponent } from 'vue'
import { session, type Me } from '@/api/session'
import type { Lanes } from '@/parts/lanes/geometry'
import { useRows, type Here, type Row } from '@/parts/lanes/rows'
import { mounted } from '@/testing/mounted'

const LANES = {
  time: [0, 1],
  seconds: 60,
  quantities: {},
  lanes: { maf: { run: [1, null], good: [2, 2] }, maf_true: { run: [1.5, 1.5], good: null } },
  windows: [
    { condition: 'hot_idle', label: 'Hot idle', start: 10, end: 20, closed_loop: true },
    { condition: 'cruise_80', label: 'Cruise', start: 30, end: 40, closed_loop: true },
  ],
  segments: [],
  bands: [
    { condition: 'hot_idle', channel: 'maf', low: 1, high: 3, swing: false },
    { condition: 'wot_pull', channel: 'maf', low: 90, high: 110, swing: false },
  ],
  readings: [{ condition: 'hot_idle', channel: 'maf', value: 1 }],
} as unknown as Lanes

function drawn(channels: string[], showGood = true, available?: string[]) {
  const found: { rows: Row[]; here: (name: string, condition?: string) => Here } = { rows: [], here: () => ({}) }
  const page = mounted(
    defineComponent({
      setup() {
        const { rows, here } = useRows(
          () => LANES,
          () => channels,
          () => showGood,
          () => available,
        )
        found.rows = rows.value
        found.here = here
        return () => null
      },
    }),
    {},
  )
  page.unmount()
  return found
}

describe('lanes as they are drawn', () => {
  afterEach(() => {
    session.value = undefined
  })

  it('show run, sound engine and the bands of the conditions that the drive passes', () => {
    const [maf] = drawn(['maf']).rows
    expect(maf?.run).toEqual([1, null])
    expect(maf?.good).toEqual([2, 2])
    expect(maf?.bands).toEqual([{ start: 10, end: 20, low: 1, high: 3 }])
  })

  it("stand in the person's unit, gaps and bands too", () => {
    session.value = { units: 'imperial' } as Me
    const [maf] = drawn(['maf']).rows
    expect(maf?.unit).toBe('lb/min')
    expect(maf?.run[0]).toBeCloseTo(0.1323, 4)
    expect(maf?.run[1]).toBeNull()
    expect(maf?.bands[0]?.high).toBeCloseTo(0.3968, 4)
    expect(maf?.say(10)).toBe('1.32')
  })

  it('hide the sound engine and its bands together: the one would give the other away', () => {
    const { rows, here } = drawn(['maf'], false)
    expect([rows[0]?.good, rows[0]?.bands]).toEqual([null, []])
    expect(here('maf', 'hot_idle').band).toBeUndefined()
    expect(here('maf', 'hot_idle').reading?.value).toBe(1)
  })

  it('offer the other layers of the same quantity, as far as they may be shown', () => {
    const siblings = (available?: string[]) => drawn(['maf'], true, available).rows[0]?.siblings.map((c) => c.id)
    expect(siblings()).toEqual(['maf', 'maf_true'])
    expect(siblings(['maf'])).toEqual(['maf'])
  })

  it('leave out what was not recorded', () => {
    expect(drawn(['maf', 'rpm']).rows.map((row) => row.channel.id)).toEqual(['maf'])
  })
})
