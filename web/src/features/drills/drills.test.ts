// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import DrillPage from '@/features/drills/DrillPage.vue'
import DrillsPage from '@/features/drills/DrillsPage.vue'
import FiguresPage from '@/features/drills/FiguresPage.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, serve, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)

function reading(value: number, more: object = {}) {
  const told = { condition: 'hot_idle', condition_label: 'Hot idle', channel: 'maf', label: 'Mass airflow' }
  return { ...told, value, quantity: 'mass_flow', unit: 'g/s', digits: 2, family: 'airflow', ...more }
}

/** What is told after an answer: the engines with verdicts, what it was. */
function told(right: boolean, was: string, wrong = '') {
  const engines = [[reading(2.5, { verdict: wrong ? 'faulty' : 'good', reason: 'far above', tells: true })]]
  return {
    right,
    cost: right ? '' : 'A meter bought in vain: 60 minutes.',
    size: 'area 2 mm²',
    key: { right: was, wrong, engines },
  }
}

describe('one item of a drill after the other', () => {
  /** Each item asks for its own number, so that one can see which is on the page. */
  function drill(form: string, answer: object) {
    let number = 0
    const engines = form === 'pair' ? [[reading(2.5)], [reading(1.9)]] : [[reading(2.5)]]
    const next = () => ({ id: 40 + (number += 1), number, item: { form, engine: 'Library bus', engines, trace: null } })
    const answers: Answers = { 'POST /api/drills/3/next': next, 'POST /api/drills/items/41': answer }
    return visited(DrillPage, { id: '3' }, answers, { who: PEOPLE.learner })
  }

  it('shows readings without any verdict, and asks for one first, for how sure only then', async () => {
    visit = await drill('reading', told(true, 'sound'))
    expect(visit.page.text()).toContain('item 1')
    expect(visit.page.find('tbody').text()).toContain('2.50 g/s')
    expect(visit.page.find('tbody').text()).not.toContain('far above')
    expect(visit.page.findAll('fieldset')).toHaveLength(1)
    await button(visit.page, 'faulty').trigger('click')
    expect(visit.page.findAll('fieldset')[1]!.text()).toContain('How sure are you?')
    expect(visit.calls('POST /api/drills/items/41')).toEqual([])
  })

  it('sends what was said with how sure, and tells at once what was right and what it cost', async () => {
    visit = await drill('sheet', told(false, 'sound'))
    await button(visit.page, 'faulty').trigger('click')
    await button(visit.page, 'likely').trigger('click')
    await quiet()
    expect(visit.calls('POST /api/drills/items/41')[0]?.body).toEqual({ said: 'faulty', confidence: 75 })
    const status = visit.page.get('[role=status]').text()
    expect(status).toContain('Not so.')
    expect(status).toContain('The engine is sound.')
    expect(status).toContain('A meter bought in vain')
    expect(status).toContain('Looked for: area 2 mm².')
    expect(visit.page.find('tbody').text()).toContain('far above')
    expect(visit.page.findAll('fieldset')).toHaveLength(0)
  })

  it('says what was wrong with a faulty engine', async () => {
    visit = await drill('reading', told(true, 'faulty', 'The meter reads 90 % of true flow'))
    await button(visit.page, 'faulty').trigger('click')
    await button(visit.page, 'sure').trigger('click')
    await quiet()
    const status = visit.page.get('[role=status]').text()
    expect(status).toContain('Right.')
    expect(status).toContain('The meter reads 90 % of true flow.')
    expect(status).not.toContain('Looked for')
  })

  it('asks of two engines which one is faulty', async () => {
    visit = await drill('pair', told(true, 'second', 'A leak'))
    const heads = visit.page.findAll('th').map((head) => head.text())
    expect(heads).toEqual(expect.arrayContaining(['First engine', 'Second engine']))
    await button(visit.page, 'the second').trigger('click')
    await button(visit.page, 'a guess').trigger('click')
    await quiet()
    expect(visit.calls('POST /api/drills/items/41')[0]?.body).toEqual({ said: 'second', confidence: 50 })
  })

  it('goes on with another item, on which nothing is said yet', async () => {
    visit = await drill('reading', told(true, 'sound'))
    await button(visit.page, 'sound').trigger('click')
    await button(visit.page, 'sure').trigger('click')
    await quiet()
    await visit.page.get('#drill-next').trigger('click')
    await quiet()
    expect(visit.page.text()).toContain('item 2')
    expect(visit.page.findAll('button').some((entry) => entry.attributes('aria-pressed') === 'true')).toBe(false)
    expect(visit.page.find('[role=status]').exists()).toBe(false)
  })

  it('says in a sentence what the server refuses, and keeps what was said', async () => {
    visit = await drill('reading', {})
    serve({ 'POST /api/drills/items/41': refusal(409, 'answered', 'this item was answered already') })
    await button(visit.page, 'sound').trigger('click')
    await button(visit.page, 'sure').trigger('click')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('This item was answered already')
    expect(button(visit.page, 'sound').attributes('aria-pressed')).toBe('true')
  })
})

describe('the list of drills', () => {
  const LEAK = { id: 3, title: 'Leaks', kinds: ['Air leak'], engines: ['Library bus'], answered: 0, own: false }
  const OWN = { ...LEAK, id: 4, title: 'Mine', answered: 12, own: true }
  const ANSWERS: Answers = {
    'GET /api/drills': [LEAK, OWN],
    'GET /api/drills/kinds': [
      { id: 'leak', label: 'Air leak', place: 'map_truth' },
      { id: 'slow', label: 'Slow sensor', place: 'wiring' },
    ],
    'GET /api/lessons': [{ id: 9, title: 'A leak behind the throttle' }],
    'POST /api/drills': { ...LEAK, id: 5 },
    'DELETE /api/drills/4': [LEAK],
  }

  it('begins a new one and goes on with one that was begun', async () => {
    visit = await visited(DrillsPage, {}, ANSWERS, { who: PEOPLE.learner })
    await button(visit.page, 'Go on').trigger('click')
    await quiet()
    expect(visit.address()).toBe('/drills/4')
    await button(visit.page, 'Start').trigger('click')
    await quiet()
    expect(visit.address()).toBe('/drills/3')
  })

  it('lets a learner delete only what is their own', async () => {
    visit = await visited(DrillsPage, {}, ANSWERS, { who: PEOPLE.learner })
    expect(visit.page.findAll('button').filter((entry) => entry.text() === 'Delete')).toHaveLength(1)
    await button(visit.page, 'Delete').trigger('click')
    await quiet()
    expect(visit.calls('DELETE /api/drills/4')).toHaveLength(1)
    expect(visit.page.findAll('article')).toHaveLength(1)
  })

  it('is made of a lesson by who makes lessons; learners are not asked for one', async () => {
    visit = await visited(DrillsPage, {}, ANSWERS)
    await visit.page.get('.making select').setValue('9')
    await quiet()
    expect(visit.calls('POST /api/drills')[0]?.body).toEqual({ title: '', lesson: 9, kinds: [] })
    expect(visit.page.get<HTMLSelectElement>('.making select').element.value).toBe('')
    visit.page.unmount()
    visit = await visited(DrillsPage, {}, ANSWERS, { who: PEOPLE.learner })
    expect(visit.page.find('.making select').exists()).toBe(false)
    expect(visit.calls('GET /api/lessons')).toEqual([])
  })

  it('is made of kinds of faults, each taken once, and taken back again', async () => {
    visit = await visited(DrillsPage, {}, ANSWERS, { who: PEOPLE.learner })
    const make = () => button(visit.page, 'Make the drill')
    expect(make().attributes('disabled')).toBeDefined()
    const choice = visit.page.findComponent({ name: 'PickOne' })
    const offered = () => choice.props('groups').flatMap((group: { entries: { value: string }[] }) => group.entries)
    expect(offered()).toHaveLength(2)
    choice.vm.$emit('choose', 'slow')
    choice.vm.$emit('choose', 'leak')
    await quiet()
    expect(offered()).toHaveLength(0)
    await visit.page.get('.kind button').trigger('click')
    await make().trigger('click')
    await quiet()
    expect(visit.calls('POST /api/drills')[0]?.body).toEqual({ title: '', lesson: 0, kinds: ['leak'] })
  })
})

describe('the figures of a drill', () => {
  const ROW = {
    ...{ learner: 'Lea Ritter', hits: 8, faulty: 10, false_alarms: 3, sound: 9, pairs_right: 4, pairs: 5 },
    ...{ d_prime: -1.26, bias: 0.5, minutes_in_vain: 61.4 },
    kinds: [
      { kind: 'leak', label: 'Air leak', hits: 8, faulty: 10, threshold: 'area 1.5 mm²', due: null },
      { kind: 'slow', label: 'Slow sensor', hits: 0, faulty: 1, threshold: '', due: '2026-12-03' },
    ],
    sureness: [
      { confidence: 50, right: 2, trials: 4 },
      { confidence: 75, right: 0, trials: 0 },
    ],
  }

  it('are told in words and with a true minus', async () => {
    visit = await visited(FiguresPage, { id: '3' }, { 'GET /api/drills/3/figures': [ROW] })
    const main = visit.page.get('dl').text()
    expect(main).toContain('8 of 10')
    expect(main).toContain('3 of 9')
    expect(main).toContain('−1.3')
    expect(main).toContain('towards sound')
    expect(main).toContain('61 min')
    const rows = visit.page.findAll('tbody tr').map((row) => row.text())
    expect(rows[0]).toContain('area 1.5 mm²')
    expect(rows[1]).toContain('not enough items yet')
    expect(visit.page.text()).toContain('a guess: 2 of 4')
    expect(visit.page.text()).not.toContain('likely:')
  })

  it.each([
    [-0.5, 'towards faulty'],
    [0.1, 'neither way'],
    [null, '–'],
  ])('name a bias of %s', async (bias, words) => {
    visit = await visited(FiguresPage, { id: '3' }, { 'GET /api/drills/3/figures': [{ ...ROW, bias }] })
    expect(visit.page.get('dl').text()).toContain(words)
  })

  it('say that nobody has answered yet', async () => {
    const none = { ...ROW, faulty: 0, sound: 0, pairs: 0, kinds: [], sureness: [] }
    visit = await visited(FiguresPage, { id: '3' }, { 'GET /api/drills/3/figures': [none] })
    expect(visit.page.text()).toContain('Nobody has answered an item yet.')
  })
})
