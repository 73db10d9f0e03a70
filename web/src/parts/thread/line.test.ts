// @vitest-environment happy-dom
import { nextTick } from 'vue'
import type { VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import ThreadLine from '@/parts/thread/ThreadLine.vue'
import { mounted } from '@/testing/mounted'

let page: VueWrapper
let resize: (width: number) => Promise<void>
beforeEach(() => {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      constructor(told: (entries: { contentRect: { width: number } }[]) => void) {
        resize = async (width) => {
          told([{ contentRect: { width } }])
          await nextTick()
        }
      }
      observe() {}
      disconnect() {}
    },
  )
})
afterEach(() => {
  page.unmount()
  vi.unstubAllGlobals()
})

const KNOTS = [
  {
    id: 'maf',
    label: 'MAF',
    sub: 'airflow meter, intake',
    value: '2.50',
    unit: 'g/s',
    family: 'airflow',
    verdict: 'faulty',
  },
  { id: 'duct', label: 'Duct', minor: true },
  { id: 'map', label: 'MAP', value: '34.0', unit: 'kPa', note: 'truth 36.0', alarm: true },
  { id: 'exam', label: 'Cause', state: 'locked' as const },
]
function thread(more: object = {}) {
  page = mounted(ThreadLine, { knots: KNOTS, label: 'The way of the air', ...more })
}
const knots = () => page.findAll('button.knot')

describe('the thread', () => {
  it('is a group of buttons in the order of the way, each with its value', () => {
    thread()
    expect(page.attributes('role')).toBe('group')
    expect(page.attributes('aria-label')).toBe('The way of the air')
    expect(knots().map((knot) => knot.get('.term').text())).toEqual(['MAF', 'Duct', 'MAP', 'Cause'])
    expect(knots()[0]!.get('.value').text()).toBe('2.50 g/s')
    expect(knots()[2]!.get('.note').text()).toBe('truth 36.0')
  })

  it('picks a knot, and says which one is picked', async () => {
    thread({ selected: 'map' })
    expect(knots().map((knot) => knot.attributes('aria-pressed'))).toEqual(['false', 'false', 'true', 'false'])
    await knots()[0]!.trigger('click')
    expect(page.emitted('pick')).toEqual([['maf']])
  })

  it('leaves closed what cannot be opened yet', async () => {
    thread()
    expect(knots()[3]!.attributes('disabled')).toBeDefined()
  })

  it('shows verdicts only where they may be seen', async () => {
    thread()
    expect(knots()[0]!.text()).not.toContain('faulty')
    await page.setProps({ showVerdict: true })
    expect(knots()[0]!.text()).toContain('faulty')
  })

  it('gives the room of places without a sensor to the others, and runs down the page where there is none', async () => {
    thread()
    await resize(900)
    expect(knots()).toHaveLength(4)
    expect(page.find('svg.line').exists()).toBe(true)
    await resize(230)
    expect(knots().map((knot) => knot.get('.term').text())).toEqual(['MAF', 'MAP', 'Cause'])
    expect(page.classes()).not.toContain('down')
    await page.setProps({ knots: [...KNOTS, ...KNOTS.map((knot) => ({ ...knot, id: `${knot.id}2` }))] })
    expect(page.classes()).toContain('down')
    expect(page.find('svg.line').exists()).toBe(false)
  })

  it('keeps every knot inside, however narrow it is', async () => {
    thread()
    for (const width of [280, 640, 1280]) {
      await resize(width)
      for (const knot of knots()) {
        const left = Number(/left: ([\d.]+)px/.exec(knot.attributes('style') ?? '')?.[1])
        expect(left).toBeGreaterThan(0)
        expect(left).toBeLessThan(width)
      }
    }
  })

  it('has what joins it from the side, with what is done to it', async () => {
    thread({ branches: [{ id: 'purge', label: 'Purge', sub: 'canister', at: 'map', note: 'clamped' }] })
    const branch = page.get('button.branch')
    expect(branch.text()).toBe('Purge, clamped')
    await branch.trigger('click')
    expect(page.emitted('pick')).toEqual([['purge']])
    expect(page.get('.joins path').attributes('stroke-dasharray')).toBe('2 3')
  })

  it('draws a trace as far as its head', async () => {
    thread({ knots: [{ ...KNOTS[0]!, trace: [1, 2, 3, 4], traceSpan: 1 }], head: 1 })
    const points = () => (page.findAll('.trace path')[1]!.attributes('d')!.match(/[ML]/g) ?? []).length
    expect(points()).toBe(2)
    await page.setProps({ head: 3 })
    expect(points()).toBe(4)
  })
})
