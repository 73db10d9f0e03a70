// @vitest-environment happy-dom
import type { VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import type { Lanes } from '@/parts/lanes/geometry'
import LaneRow from '@/parts/lanes/LaneRow.vue'
import ScriptRibbon from '@/parts/lanes/ScriptRibbon.vue'
import { CATALOGUE, mounted } from '@/testing/mounted'
import { button } from '@/testing/visited'

let page: VueWrapper
afterEach(() => page.unmount())

const [MAF, TRUTH] = CATALOGUE.channels
const say = (value: number | null | undefined) => (value == null ? '–' : value.toFixed(2))

describe('one lane', () => {
  const ROW = {
    ...{ channel: MAF, unit: 'g/s', run: [2, 4.5], good: [2.4, 2.5], bands: [], siblings: [MAF, TRUTH], say },
  }
  const LANES = { time: [0, 1], windows: [], lanes: { maf: { run: [2, 4.5], good: [2.4, 2.5] } } }
  const READING = { channel: 'maf', value: 4.5, verdict: 'faulty', reason: '4.50 lies above 3.00.', measure: 'mean' }
  function lane(here: object, more: object = {}) {
    page = mounted(
      LaneRow,
      {
        ...{ row: ROW, lanes: LANES, here, range: [0, 1], cursor: 1, index: 1, height: 90 },
        ...{ removable: true, explained: false },
        ...more,
      },
      { LanePlot: true },
    )
  }

  it('says what stands at the cursor, beside the sound engine and what is healthy', () => {
    lane({ reading: READING, band: { low: 2, high: 3, swing: false } })
    expect(page.get('[data-testid=reading-maf]').text()).toBe('4.50')
    const reading = page.get('.reading').text()
    expect(reading).toContain('2.50')
    expect(reading).toMatch(/healthy\s+2\.00 …\s+3\.00/)
    expect(reading).toContain('mean 4.50')
  })

  it('names a swing as one, and a verdict by the shape that it rests on', () => {
    lane({ reading: { ...READING, measure: 'freq' }, band: { low: 0.1, high: 0.9, swing: true } })
    expect(page.get('.reading').text()).toContain('healthy swing')
    expect(page.get('.reading').text()).toContain('by its count of swings')
    expect(page.get('.reading').text()).not.toContain('mean')
  })

  it('gives the reason of its verdict when asked', async () => {
    lane({ reading: READING })
    expect(page.find('.why').exists()).toBe(false)
    await page.get('button.judged').trigger('click')
    expect(page.emitted('explain')).toHaveLength(1)
    await page.setProps({ explained: true })
    expect(page.get('.why').text()).toBe('4.50 lies above 3.00.')
  })

  it('is marked where the control unit makes up what it displays', () => {
    lane({ reading: { ...READING, substitute: true } })
    expect(page.find('.substitute').exists()).toBe(true)
  })

  it('changes its layer and is taken away where that is allowed', async () => {
    lane({})
    await button(page, 'truth').trigger('click')
    await page.get('button.remove').trigger('click')
    expect(page.emitted('swap')).toEqual([['maf_true']])
    expect(page.emitted('remove')).toHaveLength(1)
    page.unmount()
    lane({}, { removable: false })
    expect(page.findAll('button')).toHaveLength(0)
  })
})

describe('the script under the lanes', () => {
  const LANES = {
    seconds: 200,
    segments: [
      { label: 'Start', start: 0, end: 20, time_lapse: 1 },
      { label: 'Warm up', start: 20, end: 120, time_lapse: 10 },
      { label: 'Pull', start: 120, end: 122, time_lapse: 1 },
    ],
    windows: [
      { condition: 'cold_idle', label: 'Cold idle', start: 5, end: 15 },
      { condition: 'wot_pull', label: 'Full load', start: 120, end: 121 },
    ],
  } as unknown as Lanes
  function ribbon(range: [number, number], cursor = 10) {
    page = mounted(ScriptRibbon, { lanes: LANES, range, cursor })
  }
  const windows = () => page.findAll('button.window')

  it('tells what happens when, and where time runs faster', () => {
    ribbon([0, 200])
    const segments = page.findAll('.segment')
    expect(segments[1]!.text()).toContain('Warm up')
    expect(segments[1]!.text()).toContain('×10')
    expect(segments[1]!.attributes('title')).toContain('10 times as fast')
  })

  it('labels only what has room, but names everything for who cannot see it', () => {
    ribbon([0, 200])
    expect(windows().map((entry) => entry.text())).toEqual(['', ''])
    expect(windows().map((entry) => entry.attributes('aria-label'))).toEqual(['Cold idle', 'Full load'])
    page.unmount()
    ribbon([0, 30])
    expect(windows().map((entry) => entry.text())).toEqual(['Cold idle'])
  })

  it('leaves out what is not in view, and the cursor where it is not', () => {
    ribbon([100, 200])
    expect(page.findAll('.segment').map((entry) => entry.attributes('title'))).toHaveLength(2)
    expect(page.find('.cursor').exists()).toBe(false)
    page.unmount()
    ribbon([0, 30])
    expect(page.get('.cursor').attributes('style')).toContain('33.3')
    expect(windows()[0]!.classes()).toContain('here')
  })

  it('leads into a condition, with some room around it and the cursor in its middle', async () => {
    ribbon([0, 200])
    await windows()[1]!.trigger('click')
    const [start, end] = page.emitted('range')![0]![0] as [number, number]
    expect(start).toBeLessThan(120)
    expect(end).toBeGreaterThan(121)
    expect(page.emitted('cursor')).toEqual([[120.5]])
  })

  it.each([
    [
      [0, 3],
      ['0 s', '0.5 s', '1 s', '1.5 s', '2 s', '2.5 s', '3 s'],
    ],
    [
      [0, 200],
      ['0 s', '50 s', '100 s', '150 s', '200 s'],
    ],
    [
      [100, 130],
      ['105 s', '110 s', '115 s', '120 s', '125 s', '130 s'],
    ],
  ])('has round times under %s', (range, ticks) => {
    ribbon(range as [number, number])
    expect(page.findAll('.ticks span').map((tick) => tick.text())).toEqual(ticks)
  })
})
