// @vitest-environment happy-dom
import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { session } from '@/api/session'
import type { Lanes } from '@/parts/lanes/geometry'
import LaneStack from '@/parts/lanes/LaneStack.vue'
import { mounted } from '@/testing/mounted'

const seconds = 40
const time = Array.from({ length: seconds * 10 + 1 }, (_, k) => k / 10)
const LANES = {
  time,
  seconds,
  lanes: { maf: { run: time.map((t) => 2 + t / 10), good: time.map(() => 2.5) } },
  quantities: {},
  windows: [
    { condition: 'cold_idle', label: 'Cold idle', start: 0, end: 10, time_lapse: 1 },
    { condition: 'hot_idle', label: 'Hot idle', start: 20, end: 30, time_lapse: 1 },
  ],
  segments: [],
  readings: [
    { condition: 'hot_idle', channel: 'maf', value: 4.5, verdict: 'faulty', reason: '4.50 g/s lies above 3.00 g/s.' },
  ],
  bands: [{ condition: 'hot_idle', channel: 'maf', low: 2, high: 3, swing: false }],
} as unknown as Lanes
// The curves themselves are drawn on a canvas, which only a real browser has: tests/browser looks at them.
const STUBS = { LanePlot: true, ScriptRibbon: true }

function stack(props: Record<string, unknown> = {}) {
  return mounted(LaneStack, { lanes: LANES, channels: ['maf'], available: ['maf', 'maf_true'], ...props }, STUBS)
}
let page: ReturnType<typeof stack>
const value = () => page.get('[data-testid=reading-maf]').text()

describe('lanes', () => {
  beforeEach(() => {
    session.value = null
  })
  afterEach(() => page.unmount())

  it('begin in hot idle with what stands there, and say what is healthy', () => {
    page = stack()
    expect(page.text()).toContain('Hot idle')
    expect(value()).toBe('4.50')
    expect(page.text()).toContain('healthy 2.00 … 3.00')
    expect(page.text()).toContain('faulty')
  })

  it('are walked through by keys', async () => {
    page = stack()
    await page.trigger('keydown', { key: '[' })
    expect(page.text()).toContain('Cold idle')
    expect(value()).toBe('2.50')
    await page.trigger('keydown', { key: ']' })
    expect(value()).toBe('4.50')
    await page.trigger('keydown', { key: '0' })
    await page.trigger('keydown', { key: 'ArrowRight', shiftKey: true })
    expect(value()).toBe('4.70')
    for (let k = 0; k < 30; k++) await page.trigger('keydown', { key: 'ArrowRight', shiftKey: true })
    expect(page.text()).toContain('at 40.0 s')
  })

  it('explain a verdict when asked, and only then', async () => {
    page = stack()
    expect(page.text()).not.toContain('lies above')
    await page.get('.judged').trigger('click')
    expect(page.text()).toContain('4.50 g/s lies above 3.00 g/s.')
    await page.get('.judged').trigger('click')
    expect(page.text()).not.toContain('lies above')
  })

  it('give nothing of the sound engine away where it is hidden', () => {
    page = stack({ showGood: false })
    expect(page.text()).not.toContain('healthy')
    expect(page.text()).not.toContain('sound engine')
    expect(page.getComponent({ name: 'LanePlot' }).props('good')).toBeNull()
  })

  it('follow the units of the person', async () => {
    page = stack()
    session.value = { units: 'imperial' } as typeof session.value
    await flushPromises()
    expect(page.text()).toContain('lb/min')
    expect(value()).toBe('0.60')
  })

  it('change the layer and go away by their own buttons', async () => {
    page = stack({ removable: true })
    await page.get('button[title^="Mass airflow: truth"]').trigger('click')
    expect(page.emitted('swap')).toEqual([['maf', 'maf_true']])
    await page.get('button[aria-label="Remove lane Mass airflow"]').trigger('click')
    expect(page.emitted('remove')).toEqual([['maf']])
  })
})
