// @vitest-environment happy-dom
import type { VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import DifficultyPanel from '@/features/lessons/DifficultyPanel.vue'
import { copied, copy } from '@/features/lessons/clipboard'
import OverrulePanel from '@/features/lessons/OverrulePanel.vue'
import PublishDialog from '@/features/lessons/PublishDialog.vue'
import StationThread from '@/features/lessons/StationThread.vue'
import { session } from '@/api/session'
import { mounted } from '@/testing/mounted'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let page: VueWrapper
let visit: Visit | undefined
afterEach(() => {
  page.unmount()
  visit = undefined
  vi.unstubAllGlobals()
  session.value = undefined
})
async function opened(...asked: Parameters<typeof visited>): Promise<Visit> {
  visit = await visited(...asked)
  page = visit.page
  return visit
}

describe('the lesson as a thread', () => {
  const STATIONS = [
    { id: 'a', kind: 'explain', title: 'Why', minutes: 5 },
    { id: 'b', kind: 'judge', title: 'Trims', minutes: 10 },
    { id: 'c', kind: 'conclude', title: 'Cause', given_if: { station: 'b', result: 'below', percent: 50 } },
  ]
  function thread(props: object = {}) {
    page = mounted(StationThread, { stations: STATIONS, selected: 1, warned: [], commented: [], ...props })
  }
  const knots = () => page.findAll('.row .knot')

  it('tells of each station its kind, title and minutes, and of all together how long', () => {
    thread()
    expect(knots()[1]!.text()).toContain('Trims')
    expect(knots()[1]!.text()).toContain('10 min')
    expect(page.text()).toContain('15 min in all')
    expect(knots()[1]!.attributes('aria-current')).toBe('true')
  })

  it('says who gets a station that not everybody gets', () => {
    thread()
    expect(knots()[2]!.text()).toContain('only those below 50 % at “Trims”')
  })

  it('marks what is unfair and what a colleague has said a word about', () => {
    thread({ warned: ['b'], commented: ['a'] })
    expect(knots()[1]!.text()).toContain('see fairness')
    expect(knots()[0]!.text()).toContain('comment')
    expect(knots()[2]!.text()).not.toContain('comment')
  })

  it('moves a station by hand, by arrow and by key, and none over the edge', async () => {
    thread()
    const rows = page.findAll('.row')
    await rows[0]!.trigger('dragstart')
    await rows[2]!.trigger('dragover')
    await rows[2]!.trigger('drop')
    await page.get('button[aria-label="Move up"]').trigger('click')
    await knots()[1]!.trigger('keydown', { key: 'ArrowDown', altKey: true })
    expect(page.emitted('place')).toEqual([
      [0, 2],
      [1, 0],
      [1, 2],
    ])
    await page.setProps({ selected: 0 })
    expect(page.get('button[aria-label="Move up"]').attributes('disabled')).toBeDefined()
  })

  it('does not move what is dropped where it was', async () => {
    thread()
    const row = page.findAll('.row')[1]!
    await row.trigger('dragstart')
    await row.trigger('drop')
    expect(page.emitted('place')).toBeUndefined()
  })

  it('keeps the last station', () => {
    thread({ stations: STATIONS.slice(0, 1), selected: 0 })
    expect(page.get('button[aria-label="Delete station"]').attributes('disabled')).toBeDefined()
  })

  it('adds a station of a kind, or the one that was copied', async () => {
    const before = copied.value
    copied.value = undefined
    thread()
    const add = page.findComponent({ name: 'PickOne' })
    const offered = () => add.props('groups')[0].entries.map((entry: { label: string }) => entry.label)
    expect(offered().join()).not.toContain('the copied one')
    add.vm.$emit('choose', 'judge')
    expect(page.emitted('add')).toEqual([['judge']])
    expect(add.props('value')).toBe('')
    copy(STATIONS[1] as never)
    await quiet()
    expect(offered()[0]).toBe('the copied one: Trims')
    add.vm.$emit('choose', 'paste')
    expect(page.emitted('paste')).toHaveLength(1)
    copied.value = before
  })
})

describe('difficulty as a dial', () => {
  const LESSON = {
    ...{ title: 'T', rig: 'R1', script: 'workshop_day', drives: [], faults: [] },
    stations: [{ id: 'b', kind: 'judge', title: 'Trims', text: 'Look.' }],
  }
  const remedy = (says: string) => ({ says, faults: [] })
  const step = (share: number, separation: number, telling: number) => ({
    ...{ share, separation, telling, words: `area ${2 * share} mm²`, remedy: remedy(`take ${share}`) },
  })
  const FOUND = {
    told_from: 3,
    dial: [step(0.5, 1.26, 0), step(1, 3.4, 1), step(2, 7, 4)],
    turns: [{ harder: true, remedy: remedy('Leave out the trims') }],
    draws: [
      { seed: 1, off: 2, of: 6, hardest: 2.24 },
      { seed: 2, off: 0, of: 6, hardest: null },
    ],
  }
  const ANSWERS: Answers = { 'POST /api/preview/difficulty': FOUND }
  const panel = (answers = ANSWERS) => opened(DifficultyPanel, { lesson: LESSON, index: 0 }, answers)

  it('is worked out only when somebody asks, without the words of the station', async () => {
    await panel()
    expect(visit!.asked).toEqual([])
    await button(page, 'Work out').trigger('click')
    await quiet()
    const body = visit!.calls('POST /api/preview/difficulty')[0]?.body as { document: { stations: object[] } }
    expect(body.document.stations[0]).toMatchObject({ id: 'b', title: '-', text: '' })
  })

  it('shows what each size does, and takes another one', async () => {
    await panel()
    await button(page, 'Work out').trigger('click')
    await quiet()
    const rows = page.findAll('.dial tr').map((row) => row.text())
    expect(rows[0]).toContain('area 1 mm²')
    expect(rows[0]).toContain('1.3')
    expect(rows[1]).toContain('1 reading tells')
    expect(rows[1]).toContain('as it is')
    expect(rows[2]).toContain('4 readings tell')
    await button(page, 'take').trigger('click')
    await button(page, 'Leave out the trims').trigger('click')
    expect(page.emitted('remedy')).toEqual([[FOUND.dial[0]!.remedy], [FOUND.turns[0]!.remedy]])
  })

  it('says what three learners would draw', async () => {
    await panel()
    await button(page, 'Work out').trigger('click')
    await quiet()
    const draws = page.findAll('.draws li').map((draw) => draw.text())
    expect(draws[0]).toContain('2 of 6 off')
    expect(draws[0]).toContain('hardest 2.2 spreads')
    expect(draws[1]).toContain('nothing off')
  })

  it('is out of date when the fault is another one, and not when only words are', async () => {
    await panel()
    await button(page, 'Work out').trigger('click')
    await quiet()
    const words = { ...LESSON, stations: [{ ...LESSON.stations[0], title: 'Fuel trims', text: 'Look again.' }] }
    await page.setProps({ lesson: words })
    expect(page.text()).not.toContain('Work out again')
    await page.setProps({ lesson: { ...words, faults: [{ kind: 'leak', params: { area_mm2: 4 } }] } })
    expect(page.text()).toContain('Work out again')
  })

  it('says that a station has no size to turn, and what went wrong', async () => {
    await panel({ 'POST /api/preview/difficulty': { ...FOUND, dial: [], turns: [], draws: [] } })
    await button(page, 'Work out').trigger('click')
    await quiet()
    expect(page.text()).toContain('no size to turn at this station')
    page.unmount()
    await panel({ 'POST /api/preview/difficulty': refusal(422, 'bad', 'this engine has no meter') })
    await button(page, 'Work out').trigger('click')
    await quiet()
    expect(page.get('[role=alert]').text()).toBe('This engine has no meter')
  })
})

describe("a trainer's word over the model's", () => {
  const RULING = {
    ...{ part: 'r1', label: 'Mass airflow, Hot idle', quantity: 'mass_flow', low: 1.8, high: 3.2, now: 'good' },
    options: { good: 'good', faulty: 'faulty' },
  }
  const STATION = { id: 'b', kind: 'judge', title: 'Trims' }
  function panel(overrides: object[] = []) {
    page = mounted(OverrulePanel, { rulings: [RULING], station: { ...STATION, overrides } })
  }
  const form = () => page.get('form')
  async function fill(of: { right?: string; low?: string; high?: string; why?: string; source?: string }) {
    await button(page, 'overrule').trigger('click')
    if (of.right !== undefined) await form().get('select').setValue(of.right)
    if (of.low !== undefined) await form().get('[aria-label="Lower end"]').setValue(of.low)
    if (of.high !== undefined) await form().get('[aria-label="Upper end"]').setValue(of.high)
    await form()
      .get('textarea')
      .setValue(of.why ?? '')
    await form()
      .get('label.source input')
      .setValue(of.source ?? '')
  }
  const laid = () => (page.emitted('change')?.at(-1)?.[0] as unknown[] | undefined)?.at(-1)

  it('begins with the band as the model has it', async () => {
    panel()
    await fill({})
    expect(form().get<HTMLInputElement>('[aria-label="Lower end"]').element.value).toBe('1.800')
  })

  it('is laid only with a reason and a source', async () => {
    panel()
    await fill({ right: 'faulty', why: 'Ours show less.' })
    expect(button(page, 'Lay over the model').attributes('disabled')).toBeDefined()
    await form().trigger('submit')
    expect(laid()).toBeUndefined()
  })

  it('says what is right, why and by which source', async () => {
    panel()
    await fill({ right: 'faulty', why: ' Ours show less. ', source: 'own measurement' })
    await form().trigger('submit')
    expect(laid()).toEqual({
      ...{ part: 'r1', right: 'faulty', low: null, high: null },
      ...{ why: 'Ours show less.', source: 'own measurement' },
    })
  })

  it("moves the band in the person's units, with point or comma, and an open end", async () => {
    session.value = { ...PEOPLE.trainer, units: 'imperial' }
    panel()
    await fill({ low: '0,2646', high: '', why: 'w', source: 's' })
    await form().trigger('submit')
    const band = laid() as { low: number; high: number | null; right: string }
    expect(band.low).toBeCloseTo(0.2646 / 0.132277, 6)
    expect(band.high).toBeNull()
    expect(band.right).toBe('')
  })

  it('may be a reason alone', async () => {
    panel()
    await fill({ why: 'It is the choke.', source: 's' })
    await form().trigger('submit')
    expect(laid()).toMatchObject({ right: '', low: null, high: null })
  })

  it('stands in words, and is taken back', async () => {
    const band = { part: 'r1', right: '', low: 2, high: null, why: 'Ours.', source: 'own' }
    panel([band])
    expect(page.text()).toContain('2.000 to – g/s')
    expect(page.text()).toContain('Ours. (source: own)')
    await button(page, 'take back').trigger('click')
    expect(page.emitted('change')).toEqual([[[]]])
  })
})

describe('publishing', () => {
  const LEARNERS = [
    { username: 'ritter', name: 'Lea Ritter' },
    { username: 'vogt', name: 'Lene Vogt' },
  ]
  const VERSION = { number: 3, assigned: 1 }
  const ANSWERS: Answers = { 'GET /api/learners': LEARNERS, 'POST /api/lessons/7/publish': VERSION }
  const stubs = { teleport: true, transition: true }
  const dialog = (answers: Answers = {}) =>
    opened(PublishDialog, { open: true, lesson: 7, warnings: [] }, { ...ANSWERS, ...answers }, { stubs })
  const publish = async () => {
    await button(page, 'Publish').trigger('click')
    await quiet()
  }
  const sent = () => visit!.calls('POST /api/lessons/7/publish')

  it('gives the lesson to all learners of the school unless somebody is left out', async () => {
    await dialog()
    const ticks = page.findAll<HTMLInputElement>('.learners input')
    expect(ticks.slice(0, 2).map((tick) => tick.element.checked)).toEqual([true, true])
    await ticks[1]!.setValue(false)
    await ticks[2]!.setValue(true)
    await publish()
    expect(sent()[0]?.body).toEqual({ learners: ['ritter'], closed_book: true, debrief_held: false, numbers_of: '' })
    expect(page.emitted('published')).toEqual([[VERSION]])
  })

  it('is done once, however often it has to be sent', async () => {
    await dialog({ 'POST /api/lessons/7/publish': () => refusal(503, 'busy', 'the server restarts') })
    await publish()
    expect(page.get('[role=alert]').text()).toBe('The server restarts')
    await publish()
    expect(sent()).toHaveLength(2)
    expect(sent()[1]!.change).toBe(sent()[0]!.change)
    expect(page.emitted('published')).toBeUndefined()
  })

  it('says of each station why it could not be given to every learner', async () => {
    const problems = [
      { station: 'b', text: 'Trims: one reading is not shown.' },
      { station: 'c', text: 'Cause: two causes fit.' },
    ]
    const refused = new Response(JSON.stringify({ code: 'unpublishable', message: 'no', problems }), { status: 422 })
    await dialog({ 'POST /api/lessons/7/publish': refused })
    await publish()
    expect(page.findAll('[role=alert] li').map((entry) => entry.text())).toEqual(problems.map((entry) => entry.text))
  })

  it('tells how many fairness warnings are open, and that a school has no learners', async () => {
    visit = await opened(
      PublishDialog,
      { open: true, lesson: 7, warnings: [{ station: 'b' }, { station: 'c' }] },
      { ...ANSWERS, 'GET /api/learners': [] },
      { stubs },
    )
    expect(page.text()).toContain('2 fairness warnings are open.')
    expect(page.text()).toContain('Your school has no learners yet.')
  })
})
