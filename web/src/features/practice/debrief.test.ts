// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import type { Me } from '@/api/session'
import DebriefPage from '@/features/practice/DebriefPage.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)

const station = (index: number, title: string, more: object = {}) => ({
  ...{ index, title, kind: 'measure', points: 0.5, answered: true, left_out: false, vehicle: '', overruled: '' },
  ...{ parts: [] },
  ...more,
})
const dispute = (more: object = {}) => ({
  ...{ id: 5, station: 1, learner: 'Lea Ritter', text: 'The band is too narrow.', outcome: 'open' },
  ...{ answer: '', answered_by: '' },
  ...more,
})
const DEBRIEF = {
  ...{
    title: 'A leak',
    learner: 'Lea Ritter',
    version: 2,
    rig: 'R1',
    score: 66.6,
    finished_at: '2026-11-02T08:30:00Z',
  },
  ...{ cause: 'Air leak behind the throttle, 2 mm²', proof: ['Smoke leaves at the hose.'], repair: ['A new hose.'] },
  ...{ rules: 'Judged by version 2 of the rules.', core_version: '1.4', disputes: [] as object[] },
  stations: [
    station(0, 'Why', { kind: 'explain', points: null }),
    station(1, 'Trims', { points: 0.665 }),
    station(2, 'Cause', { answered: false, points: null }),
    station(3, 'For those who need it', { left_out: true }),
  ],
}
const SEEN = {
  station: {
    ...{ index: 1, kind: 'measure', title: 'Trims', text: '', has_lanes: false, drawing: 'none', channels: [] },
    readings: [
      {
        condition: 'hot_idle',
        condition_label: 'Hot idle',
        channel: 'maf',
        label: 'Mass airflow',
        unit: 'g/s',
        quantity: 'mass_flow',
      },
    ],
  },
  answer: { kind: 'measure', reading: '4.5 g/s' },
  done: [{ seconds: 75.4, words: 'clamped the hose of the canister' }],
}
const ANSWERS: Answers = {
  'GET /api/attempts/7/debrief': DEBRIEF,
  'GET /api/attempts/7/seen/1': SEEN,
  'POST /api/attempts/7/disputes/1': {},
  'PUT /api/disputes/5': {},
}
const debrief = (who: Me, answers: Answers = {}) =>
  visited(DebriefPage, { id: '7' }, { ...ANSWERS, ...answers }, { who })
const asked = (disputes: object[]) => ({ 'GET /api/attempts/7/debrief': { ...DEBRIEF, disputes } })
const section = (title: string) => visit.page.findAll('section').find((entry) => entry.get('h2').text() === title)

describe('the debrief', () => {
  it('tells the cause, what proves it and the repair, and how much was right', async () => {
    visit = await debrief(PEOPLE.learner)
    expect(visit.page.get('.score').text()).toContain('67 %')
    expect(visit.page.get('.cause').text()).toContain('Air leak behind the throttle, 2 mm²')
    expect(visit.page.get('.cause').text()).toContain('Smoke leaves at the hose.')
    expect(visit.page.text()).toContain('Judged by version 2 of the rules.')
    expect(visit.page.text()).toContain('core version 1.4')
  })

  it('tells of stations that were to be answered, and names those of another way', async () => {
    visit = await debrief(PEOPLE.learner)
    expect(visit.page.findAll('section').map((entry) => entry.get('h2').text())).toEqual(['Trims', 'Cause'])
    expect(section('Trims')!.text()).toContain('67 %')
    expect(section('Cause')!.text()).toContain('not answered')
    expect(visit.page.text()).toContain('Not on this way through the lesson: For those who need it.')
  })

  it('shows a station as its learner saw it, with the answer that counts, on request', async () => {
    visit = await debrief(PEOPLE.trainer)
    expect(visit.calls('GET /api/attempts/7/seen/1')).toEqual([])
    await button(visit.page, 'Show what was seen').trigger('click')
    await quiet()
    const seen = visit.page.get('[data-testid=seen]')
    const field = seen.get<HTMLInputElement>('input')
    expect(field.element.value).toBe('4.5 g/s')
    expect(field.element.disabled).toBe(true)
    expect(seen.text()).toContain('1:15 clamped the hose of the canister')
    await button(visit.page, 'Hide what was seen').trigger('click')
    expect(visit.page.find('[data-testid=seen]').exists()).toBe(false)
  })

  it('that may not be read yet says so and leads home', async () => {
    const refused = refusal(403, 'held', 'your trainer opens this debrief')
    visit = await debrief(PEOPLE.learner, { 'GET /api/attempts/7/debrief': refused })
    expect(visit.page.get('[role=alert]').text()).toContain('Your trainer opens this debrief')
    expect(visit.page.get('[role=alert] a').attributes('href')).toBe('/')
  })
})

describe('a key that is questioned', () => {
  it('by the learner, at a station that counts, with a reason', async () => {
    visit = await debrief(PEOPLE.learner)
    expect(section('Cause')!.text()).not.toContain('Question this key')
    await button(visit.page, 'Question this key').trigger('click')
    expect(button(visit.page, 'Send to your trainer').attributes('disabled')).toBeDefined()
    await visit.page.get('textarea').setValue('The band is too narrow.')
    await button(visit.page, 'Send to your trainer').trigger('click')
    await quiet()
    expect(visit.calls('POST /api/attempts/7/disputes/1')[0]?.body).toEqual({ text: 'The band is too narrow.' })
    expect(visit.calls('GET /api/attempts/7/debrief')).toHaveLength(2)
  })

  it('not before everything is handed in', async () => {
    visit = await debrief(PEOPLE.learner, { 'GET /api/attempts/7/debrief': { ...DEBRIEF, finished_at: null } })
    expect(visit.page.text()).not.toContain('Question this key')
  })

  it('waits for the trainer, whom nobody else answers for', async () => {
    visit = await debrief(PEOPLE.learner, asked([dispute()]))
    expect(section('Trims')!.text()).toContain('The band is too narrow.')
    expect(section('Trims')!.text()).toContain('Your trainer has not answered yet.')
    expect(visit.page.find('textarea').exists()).toBe(false)
  })

  it.each([
    ['The key stands', 'stands'],
    ['Grant the points', 'granted'],
  ])('is settled by a trainer with a reason: %s', async (words, outcome) => {
    visit = await debrief(PEOPLE.trainer, asked([dispute()]))
    expect(button(visit.page, words).attributes('disabled')).toBeDefined()
    await visit.page.get('textarea').setValue('See the service sheet.')
    await button(visit.page, words).trigger('click')
    await quiet()
    expect(visit.calls('PUT /api/disputes/5')[0]?.body).toEqual({ outcome, answer: 'See the service sheet.' })
  })

  it('was settled once: the answer stands, with who gave it', async () => {
    const granted = dispute({ outcome: 'granted', answer: 'So it is.', answered_by: 'Brandt' })
    visit = await debrief(PEOPLE.trainer, asked([granted]))
    expect(section('Trims')!.text()).toContain('Granted (Brandt): So it is.')
    expect(visit.page.find('textarea').exists()).toBe(false)
  })

  it('keeps the words when the server does not take them', async () => {
    const refused = refusal(409, 'settled', 'this was settled already')
    visit = await debrief(PEOPLE.trainer, { ...asked([dispute()]), 'PUT /api/disputes/5': refused })
    await visit.page.get('textarea').setValue('See the service sheet.')
    await button(visit.page, 'The key stands').trigger('click')
    await quiet()
    expect(visit.page.get('.question [role=alert]').text()).toBe('This was settled already')
    expect(visit.page.get('textarea').element.value).toBe('See the service sheet.')
  })
})
