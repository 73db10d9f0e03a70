// @vitest-environment happy-dom
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { session, type Me } from '@/api/session'
import type { Answer, View } from '@/parts/stations/kind'
import StationBody from '@/parts/stations/StationBody.vue'
import { STEPS } from '@/parts/stations/steps'
import { mounted } from '@/testing/mounted'

const HEADING = { index: 2, id: 's', title: 'T', text: '', rig: 'R1', has_lanes: false, problem: '', final: false }
const FLOW = { quantity: 'mass_flow', step: 0.01, digits: 2, unit: 'g/s' }

let page: VueWrapper
let answer: Answer
afterEach(() => page.unmount())

/** A station in a learner's hands: each answer comes back to it, as from the player. */
function answering(view: View, begun: Answer, given: { provide?: Record<symbol, unknown>; disabled?: boolean } = {}) {
  answer = begun
  const onChange = async (next: Answer) => {
    answer = next
    await page.setProps({ answer })
  }
  const props = { station: view, answer, rig: 'R1', onChange, disabled: given.disabled ?? false }
  page = mounted(StationBody, props, {}, given.provide)
}

describe('tests in an order', () => {
  const test = (id: string, label: string, exchange = false) => ({ id, label, minutes: 12.4, exchange })
  const view: View = {
    ...HEADING,
    kind: 'order',
    causes: ['A leak', 'A meter'],
    tests: [test('a', 'Smoke'), test('b', 'Clamp'), test('c', 'New meter', true)],
  }
  const press = (name: string) => page.find(`button[aria-label="${name}"]`).trigger('click')
  const placed = () => page.findAll('[data-testid="order-placed"] .name').map((name) => name.text())

  beforeEach(() => answering(view, { kind: 'order', order: [] }))

  it('are taken one by one, moved up and put back with buttons', async () => {
    for (let k = 0; k < 3; k += 1) await page.find('button.take').trigger('click')
    expect(placed()).toEqual(['Smoke', 'Clamp', 'New meter'])
    expect(page.find('button.take').exists()).toBe(false)
    await press('Earlier: New meter')
    expect(placed()).toEqual(['Smoke', 'New meter', 'Clamp'])
    await press('Take out: Smoke')
    expect(answer).toEqual({ kind: 'order', order: ['c', 'b'] })
    expect(page.findAll('button.take').map((button) => button.text())).toEqual([expect.stringContaining('Smoke')])
  })

  it('say what they take and which is an exchange', () => {
    const offered = page.findAll('button.take').map((button) => button.text())
    expect(offered[0]).toContain('12 min')
    expect(offered.map((text) => text.includes('buys a part'))).toEqual([false, false, true])
  })

  it('leave the first one where it is', async () => {
    await page.find('button.take').trigger('click')
    const up = page.find('[data-testid="order-placed"] button')
    expect(up.attributes('disabled')).toBeDefined()
  })
})

describe('values that belong to places', () => {
  const place = (condition_label: string) => ({ condition: 'x', condition_label, label: 'MAF', ...FLOW })
  const view = {
    ...HEADING,
    kind: 'match',
    places: [place('Hot idle'), place('Full load')],
    values: [
      { id: 'a', ...FLOW, value: 2.5 },
      { id: 'b', ...FLOW, value: 107 },
    ],
  } as unknown as View
  const options = (k: number) =>
    page
      .findAll('select')
      [k]!.findAll('option')
      .map((option) => option.attributes('value'))

  it('are offered once: what is placed is free again when it is taken away', async () => {
    answering(view, { kind: 'match', values: [null, null] })
    await page.findAll('select')[0]!.setValue('b')
    expect(options(1)).toEqual(['', 'a'])
    expect(options(0)).toEqual(['', 'a', 'b'])
    await page.findAll('select')[0]!.setValue('')
    expect(answer).toEqual({ kind: 'match', values: [null, null] })
    expect(options(1)).toEqual(['', 'a', 'b'])
  })
})

describe('a procedure', () => {
  const stage = (id: string) => ({
    id,
    situation: `Situation ${id}`,
    choices: [
      { id: '0', text: 'Wait' },
      { id: '1', text: 'Pull' },
    ],
  })
  const view: View = { ...HEADING, kind: 'procedure', cautions: ['Hot parts burn.'], stages: [stage('1'), stage('2')] }
  const situations = () => page.findAll('legend').map((legend) => legend.text())

  it('shows nothing to do before its cautions are acknowledged', async () => {
    answering(view, { kind: 'procedure', heeded: false, done: {} })
    expect(page.text()).toContain('Hot parts burn.')
    expect(situations()).toEqual([])
    await page.find('input[type=checkbox]').setValue(true)
    expect(situations()).toEqual(['Situation 1'])
  })

  it('goes on stage by stage', async () => {
    answering(view, { kind: 'procedure', heeded: true, done: {} })
    await page.find('input[type=radio][value="0"]').trigger('change')
    expect(situations()).toEqual(['Situation 1', 'Situation 2'])
    expect(answer).toEqual({ kind: 'procedure', heeded: true, done: { 1: '0' } })
  })

  it('where a learner works, tells what comes of a choice and lets nobody take it back', async () => {
    const taken = ref<Schemas['TakenStepOut'][]>([])
    const take = vi.fn((_index: number, name: string, choice: string) => {
      taken.value = [
        ...taken.value,
        { name, choice, comes: 'The thread tears.', hurts: true } as (typeof taken.value)[0],
      ]
      return Promise.resolve()
    })
    answering(view, { kind: 'procedure', heeded: true, done: {} }, { provide: { [STEPS]: { taken, take } } })
    expect(page.find('button.do').attributes('disabled')).toBeDefined()
    await page.find('input[type=radio][value="1"]').trigger('change')
    expect(situations()).toEqual(['Situation 1'])
    await page.find('button.do').trigger('click')
    await flushPromises()
    expect(take).toHaveBeenCalledWith(2, '1', '1')
    expect(page.find('[role=status]').text()).toContain('The thread tears.')
    expect(page.find('fieldset').attributes('disabled')).toBeDefined()
    expect(situations()).toEqual(['Situation 1', 'Situation 2'])
    expect(answer).toEqual({ kind: 'procedure', heeded: true, done: { 1: '1' } })
  })
})

describe('a trace that is drawn', () => {
  const trace = {
    ...FLOW,
    condition: 'snap',
    condition_label: 'Snap',
    label: 'MAF',
    seconds: [0, 1, 2, 3],
    sound: [3, 4, null, 6],
    knots: [0, 1.2, 3],
    low: 0,
    high: 9,
  }
  const view = { ...HEADING, kind: 'sketch', what_if: 'A leak', trace } as unknown as View
  const empty: Answer = { kind: 'sketch', drawn: [null, null, null] }
  const drawn = () => (answer as { drawn: (number | null)[] }).drawn
  const key = (k: number, name: string) => page.findAll('[role=slider]')[k]!.trigger('keydown', { key: name })

  afterEach(() => {
    session.value = undefined
  })

  it('is drawn with the keys alone: a knot begins where its neighbour is, and stays in the frame', async () => {
    answering(view, empty)
    await key(0, 'ArrowUp')
    expect(drawn()).toEqual([4.65, null, null])
    await key(1, 'ArrowDown')
    expect(drawn()[1]).toBeCloseTo(4.5, 6)
    for (let k = 0; k < 20; k += 1) await key(2, 'PageUp')
    expect(drawn()[2]).toBe(9)
    await key(0, 'Tab')
    expect(drawn()[0]).toBe(4.65)
  })

  it('begins as the sound engine has it where somebody wants that', async () => {
    answering(view, empty)
    await page.find('button.take').trigger('click')
    expect(drawn()).toEqual([3, 4, 6])
  })

  it('tells those who cannot see it the value in their units', async () => {
    session.value = { units: 'imperial' } as Me
    answering(view, { kind: 'sketch', drawn: [3, null, null] })
    const [first, second] = page.findAll('[role=slider]')
    expect(first?.attributes('aria-valuetext')).toBe('0.40 lb/min')
    expect(second?.attributes('aria-valuetext')).not.toMatch(/\d/)
  })

  it('is a picture only once it is handed in', () => {
    answering(view, { kind: 'sketch', drawn: [3, 4, 5] }, { disabled: true })
    expect(page.findAll('[role=slider]')).toHaveLength(0)
    expect(page.findAll('circle.dot')).toHaveLength(3)
    expect(page.find('button.take').exists()).toBe(false)
  })
})
