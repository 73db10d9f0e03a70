// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import ResultsPage from '@/features/lessons/ResultsPage.vue'
import VersionsPage from '@/features/lessons/VersionsPage.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { button, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)
const AT = '2026-11-02T08:30:00Z'

describe('the versions of a lesson', () => {
  const version = (number: number) => ({
    ...{ number, title: `A leak ${number}`, published_at: AT, published_by: 'Brandt', assigned: number },
  })
  const CHANGE = {
    ...{ station: 'b', what: 'changed', title: 'Trims', kind: 'judge' },
    fields: [{ field: 'closed_book', called: 'closed book', before: 'no', after: 'yes' }],
  }
  const ANSWERS: Answers = {
    'GET /api/lessons/7': { revision: 9, draft: { title: 'A leak' } },
    'GET /api/lessons/7/versions': [version(2), version(1)],
    'GET /api/lessons/7/changes': [CHANGE],
    'GET /api/lessons/7/versions/1': { ...version(1), document: { title: 'A leak 1' } },
    'PUT /api/lessons/7/draft': { revision: 10 },
  }
  const versions = (answers: Answers = {}) => visited(VersionsPage, { id: '7' }, { ...ANSWERS, ...answers })
  const compared = () => visit.calls('GET /api/lessons/7/changes').map((one) => one.query)

  it('are compared with the draft first, from the newest on', async () => {
    visit = await versions()
    expect(compared()).toEqual([{ before: '2', after: '0' }])
    const part = visit.page.get('section.part')
    expect(part.text()).toContain('Trims')
    expect(part.text()).toContain('closed book')
    expect(part.get('del').text()).toBe('no')
    expect(part.get('ins').text()).toBe('yes')
  })

  it('are compared with each other as chosen', async () => {
    visit = await versions({
      'GET /api/lessons/7/changes': ({ query }: Asked) => (query.after === '2' ? [] : [CHANGE]),
    })
    const [before, after] = visit.page.findAll('.choice select')
    await before!.setValue('1')
    await after!.setValue('2')
    await quiet()
    expect(compared().at(-1)).toEqual({ before: '1', after: '2' })
    expect(visit.page.text()).toContain('Nothing has changed between the two.')
  })

  it('are taken into the draft over its newest revision, and the editor opens', async () => {
    visit = await versions()
    await visit.page.findAll('button').at(-1)!.trigger('click')
    await quiet()
    const sent = visit.calls('PUT /api/lessons/7/draft')[0]?.body
    expect(sent).toEqual({ revision: 9, document: { title: 'A leak 1' } })
    expect(visit.address()).toBe('/lessons/7')
  })

  it('stay where they are when somebody has changed the draft meanwhile', async () => {
    visit = await versions({ 'PUT /api/lessons/7/draft': refusal(409, 'conflict', 'somebody has changed this lesson') })
    await visit.page.findAll('button').at(-1)!.trigger('click')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('Somebody has changed this lesson')
    expect(visit.address()).toBe('/')
  })

  it('are none before the lesson is published', async () => {
    visit = await versions({ 'GET /api/lessons/7/versions': [] })
    expect(visit.page.text()).toContain('not yet')
    expect(compared()).toEqual([])
  })
})

describe('the results of a lesson', () => {
  const row = (username: string, more: object = {}) => ({
    ...{
      username,
      name: username.toUpperCase(),
      version: 2,
      attempt: null,
      answered: 0,
      stations: 3,
      finished_at: null,
    },
    ...{ points: [], score: null, missed: null, condemned: null, closed_book: false, debrief_held: false },
    ...more,
  })
  const DONE = row('ritter', {
    ...{ attempt: 31, answered: 3, finished_at: AT, score: 66.7, missed: 2, condemned: 0, debrief_held: true },
    points: [
      { index: 1, kind: 'judge', title: 'Trims', points: 0.667 },
      { index: 2, kind: 'conclude', title: 'Cause', points: 1 },
    ],
  })
  const WORKING = row('vogt', { attempt: 32, answered: 1, closed_book: true })
  const ANSWERS: Answers = {
    'GET /api/lessons/7': { revision: 9, draft: { title: 'A leak' } },
    'GET /api/lessons/7/results': [DONE, WORKING, row('weiss')],
    'GET /api/lessons/7/disputes': [],
    'GET /api/learners': ['ritter', 'vogt', 'weiss', 'sommer'].map((name) => ({ username: name, name })),
    'POST /api/lessons/7/debriefs': {},
    'POST /api/lessons/7/assign': {},
  }
  const results = (answers: Answers = {}) => visited(ResultsPage, { id: '7' }, { ...ANSWERS, ...answers })
  const cells = (k: number) =>
    visit.page
      .findAll('tbody tr')
      [k]!.findAll('td')
      .map((cell) => cell.text())

  it('tell who is how far, station by station', async () => {
    visit = await results()
    const done = cells(0)
    expect(done[2]).toMatch(/^finished .*debrief held$/)
    expect(done.slice(3, 8)).toEqual(['67 %', '100 %', '67 %', '2', '0'])
    expect(cells(1)[2]).toBe('working, 1 of 3, closed book')
    expect(cells(1).slice(3, 8)).toEqual(['–', '–', '–', '–', '–'])
    expect(cells(2)[2]).toBe('not started')
  })

  it('lead to a debrief only where somebody has finished', async () => {
    visit = await results()
    const links = visit.page.findAll('tbody a').map((link) => link.attributes('href'))
    expect(links).toEqual(['/attempts/31/debrief'])
  })

  it('open held debriefs for all together', async () => {
    visit = await results()
    await button(visit.page, 'Open one held debrief').trigger('click')
    await quiet()
    expect(visit.calls('POST /api/lessons/7/debriefs')).toHaveLength(1)
    expect(visit.calls('GET /api/lessons/7/results')).toHaveLength(2)
  })

  it('have nothing to open where none is held', async () => {
    visit = await results({ 'GET /api/lessons/7/results': [{ ...DONE, debrief_held: false }] })
    expect(visit.page.text()).not.toContain('held debrief')
  })

  it('give the version to one more learner, with the numbers of somebody who has it', async () => {
    visit = await results()
    const [who, numbers] = visit.page.findAll('.give select')
    expect(who!.findAll('option').map((option) => option.text())).toEqual(['', 'sommer'])
    const give = button(visit.page, 'Give')
    expect(give.attributes('disabled')).toBeDefined()
    await who!.setValue('sommer')
    await numbers!.setValue('ritter')
    await visit.page.get('form.give').trigger('submit')
    await quiet()
    expect(visit.calls('POST /api/lessons/7/assign')[0]?.body).toEqual({
      ...{ learners: ['sommer'], closed_book: false, debrief_held: false, numbers_of: 'ritter' },
    })
    expect(visit.calls('GET /api/lessons/7/results')).toHaveLength(2)
  })

  it('keep apart who waits for an answer about a key, and what was answered', async () => {
    const dispute = { attempt: 31, title: 'Trims', learner: 'Ritter', text: 'The band is too narrow.', answer: '' }
    const open = { ...dispute, id: 1, outcome: 'open', answered_by: '' }
    const settled = { ...dispute, id: 2, outcome: 'granted', answered_by: 'Brandt', answer: 'So it is.' }
    visit = await results({ 'GET /api/lessons/7/disputes': [open, settled] })
    const said = visit.page.findAll('.dispute').map((entry) => entry.text())
    expect(said[0]).toContain('not answered yet')
    expect(said[1]).toContain('Granted (Brandt): So it is.')
  })

  it('say that nobody has the lesson yet', async () => {
    visit = await results({ 'GET /api/lessons/7/results': [] })
    expect(visit.page.text()).toContain('This lesson is not given to anybody yet.')
    expect(visit.page.find('.give').exists()).toBe(false)
  })
})
