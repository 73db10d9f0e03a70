// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import HomePage from '@/features/home/HomePage.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)
const AT = '2026-11-02T08:30:00Z'

describe('a trainer at home', () => {
  const lesson = (id: number, title: string, more: object = {}) => ({
    ...{ id, title, updated_at: AT, updated_by: 'Brandt', version: null, changed_since_version: true },
    ...{ assigned: 0, finished: 0, archived: false },
    ...more,
  })
  const ALL = [
    lesson(1, 'A leak', { version: 2, changed_since_version: false, assigned: 4, finished: 3 }),
    lesson(2, 'A meter'),
    lesson(3, 'Old one', { archived: true, version: 1 }),
  ]
  const ANSWERS: Answers = {
    'GET /api/lessons': ALL,
    'GET /api/lessons/1': { draft: { title: 'A leak', stations: [{ id: 'a' }] } },
    'POST /api/lessons': { id: 12 },
    'PUT /api/lessons/2/archived': {},
    'POST /api/packages': { id: 13 },
  }
  const home = (answers: Answers = {}) => visited(HomePage, {}, { ...ANSWERS, ...answers })
  const row = (title: string) => visit.page.findAll('tbody tr').find((entry) => entry.text().includes(title))

  it('sees the lessons of the day, those put away on request', async () => {
    visit = await home()
    expect(row('A leak')!.text()).toContain('as published')
    expect(row('A meter')!.text()).toContain('not yet')
    expect(row('Old one')).toBeUndefined()
    await button(visit.page, 'Put away (1)').trigger('click')
    expect(row('Old one')).toBeDefined()
    expect(row('A leak')).toBeUndefined()
  })

  it('puts one away', async () => {
    visit = await home()
    await row('A meter')!.findAll('button').at(-1)!.trigger('click')
    await quiet()
    expect(visit.calls('PUT /api/lessons/2/archived')[0]?.body).toEqual({ archived: true })
    expect(visit.calls('GET /api/lessons')).toHaveLength(2)
  })

  it('makes a new one that can be tried at once, or a copy under another title', async () => {
    visit = await home()
    await button(visit.page, 'New lesson').trigger('click')
    await quiet()
    expect(visit.address()).toBe('/lessons/12')
    const made = visit.calls('POST /api/lessons')[0]?.body as { document: { stations: object[]; faults: object[] } }
    expect(made.document.stations.length).toBeGreaterThan(0)
    await row('A leak')!.findAll('button')[0]!.trigger('click')
    await quiet()
    const copy = visit.calls('POST /api/lessons')[1]?.body as { document: { title: string; stations: object[] } }
    expect(copy.document.title).toBe('A leak (copy)')
    expect(copy.document.stations).toEqual([{ id: 'a' }])
  })

  it('reads a package from a file, and is told everything that is wrong with one', async () => {
    const problems = ['It is no lesson.', 'Station 2 has no kind.'].map((text) => ({ station: '', text }))
    const refused = () =>
      new Response(JSON.stringify({ code: 'bad_package', message: 'it is no lesson', problems }), { status: 422 })
    let whole = false
    visit = await home({ 'POST /api/packages': () => (whole ? { id: 13 } : refused()) })
    const field = visit.page.get<HTMLInputElement>('input[type=file]')
    const choose = async () => {
      const file = new File(['{"lesson": 1}'], 'lesson.json', { type: 'application/json' })
      Object.defineProperty(field.element, 'files', { value: [file], configurable: true })
      await field.trigger('change')
      await quiet()
      await quiet()
    }
    await choose()
    expect(visit.page.get('[role=alert]').text()).toContain('It is no lesson')
    expect(visit.page.findAll('[role=alert] li').map((entry) => entry.text())).toEqual(['Station 2 has no kind.'])
    whole = true
    await choose()
    expect(visit.calls('POST /api/packages')[1]?.body).toEqual({ lesson: 1 })
    expect(visit.address()).toBe('/lessons/13')
  })

  it('is told how to begin', async () => {
    visit = await home({ 'GET /api/lessons': [] })
    expect(visit.page.text()).toContain('No lesson yet.')
  })
})

describe('a learner at home', () => {
  const lesson = (id: number, more: object = {}) => ({
    ...{ id, title: `Lesson ${id}`, goal: 'tell a leak', stations: 4, answered: 0, attempt: null },
    ...{ finished_at: null, debrief_held: false },
    ...more,
  })
  const begun = lesson(2, { attempt: 22, answered: 1 })
  const held = lesson(3, { attempt: 23, answered: 4, finished_at: AT, debrief_held: true })
  const told = lesson(4, { attempt: 24, answered: 4, finished_at: AT })
  const ANSWERS: Answers = {
    'GET /api/assignments': [lesson(1), begun, held, told],
    'POST /api/assignments/1/attempt': { id: 21 },
    'POST /api/assignments/2/attempt': { id: 22 },
  }
  const home = (answers: Answers = {}) => visited(HomePage, {}, { ...ANSWERS, ...answers }, { who: PEOPLE.learner })
  const article = (k: number) => visit.page.findAll('article')[k]!

  it('starts one, goes on with one, and sees how far it is', async () => {
    visit = await home()
    expect(article(1).text()).toContain('1 of 4 stations answered')
    await button(visit.page, 'Go on').trigger('click')
    await quiet()
    expect(visit.address()).toBe('/attempts/22')
    await button(visit.page, 'Start').trigger('click')
    await quiet()
    expect(visit.address()).toBe('/attempts/21')
  })

  it('reads the debrief of what is finished, unless the trainer holds it', async () => {
    visit = await home()
    expect(article(2).text()).toContain('Your trainer opens the debrief for all together.')
    expect(article(2).findAll('a, button')).toHaveLength(0)
    expect(article(3).get('a').attributes('href')).toBe('/attempts/24/debrief')
  })

  it('is told in a sentence why a lesson does not open', async () => {
    const refused = refusal(409, 'closed', 'this lesson was taken back')
    visit = await home({ 'POST /api/assignments/1/attempt': refused })
    await button(visit.page, 'Start').trigger('click')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('This lesson was taken back')
    expect(visit.address()).toBe('/')
  })

  it('is told that nothing is assigned yet', async () => {
    visit = await home({ 'GET /api/assignments': [] })
    expect(visit.page.text()).toContain('Nothing is assigned to you yet.')
  })
})
