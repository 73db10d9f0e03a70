// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import PlanPage from '@/features/plan/PlanPage.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)

const engine = (id: string, ready: boolean) => ({ id, name: `Engine ${id}`, ready })
const aim = (id: string, title: string, more: object = {}) => ({
  ...{ id, title, can: `tell ${title.toLowerCase()}`, why: 'It is common.', family: 'airflow', level: 'journeyman' },
  ...{ minutes: 45, after: [], rigs: [engine('R2', false), engine('R3', true)] },
  ...more,
})
const AIMS = [
  aim('meter', 'A meter that reads too little', { level: 'expert', minutes: 90, after: ['leak'] }),
  aim('leak', 'A leak behind the throttle', { family: 'trims', level: 'start' }),
  aim('slow', 'A slow sensor', { family: 'oxygen_narrowband' }),
]
const station = (id: string, minutes: number) => ({ id, kind: 'judge', title: `Station ${id}`, minutes })
const PROPOSED = {
  reasons: ['The trims show it best.'],
  document: { title: 'A meter', rig: 'R3', stations: [station('a', 10), station('b', 20), station('c', 5)] },
}
const ANSWERS: Answers = {
  'GET /api/aims': AIMS,
  'POST /api/lessons/propose': PROPOSED,
  'POST /api/lessons': { id: 12 },
}
const plan = (answers: Answers = {}) => visited(PlanPage, {}, { ...ANSWERS, ...answers })
const aims = () => visit.page.findAll('section button').map((entry) => entry.get('.title').text())
async function choose(title: string) {
  await visit.page
    .findAll('section button')
    .find((entry) => entry.text().includes(title))!
    .trigger('click')
}
async function propose() {
  await button(visit.page, 'Propose').trigger('click')
  await quiet()
}

describe('planning a lesson from what learners can do afterwards', () => {
  it('finds aims by words, in any order, and by level', async () => {
    visit = await plan()
    expect(aims()).toHaveLength(3)
    expect(visit.page.findAll('section h2').map((head) => head.text())).toContain('Trims')
    await visit.page.get('.finding input').setValue('READS meter')
    expect(aims()).toEqual(['A meter that reads too little'])
    expect(visit.page.get('[role=status]').text()).toBe('1 of 3 aims')
    await visit.page.get('.finding input').setValue('')
    await visit.page.get('.finding select').setValue('start')
    expect(aims()).toEqual(['A leak behind the throttle'])
  })

  it('takes level, minutes and an engine that is ready from the aim, and says what comes before', async () => {
    visit = await plan()
    expect(visit.page.get('aside').text()).toContain('Choose what learners can do afterwards')
    await choose('A meter')
    expect(visit.page.get('aside').text()).toContain('Better after: A leak behind the throttle')
    expect(visit.page.get<HTMLSelectElement>('#plan-rig').element.value).toBe('R3')
    expect(visit.page.get('#plan-rig').text()).toContain('Engine R2 (its values are computed first')
    await propose()
    expect(visit.calls('POST /api/lessons/propose')[0]?.body).toEqual({
      ...{ aim: 'meter', page: '', fault: '', rig: 'R3', level: 'expert', minutes: 90 },
    })
  })

  it('shows what is proposed and why, and leaves out what is not wanted', async () => {
    visit = await plan()
    await choose('A meter')
    await propose()
    const outline = visit.page.get('[data-testid=proposed]')
    expect(outline.text()).toContain('The trims show it best.')
    expect(outline.text()).toContain('3 stations, 35 min')
    await outline.findAll('input')[1]!.trigger('change')
    expect(outline.text()).toContain('2 stations, 15 min')
    await button(visit.page, 'Make the lesson').trigger('click')
    await quiet()
    const made = visit.calls('POST /api/lessons')[0]?.body as {
      document: { title: string; stations: { id: string }[] }
    }
    expect(made.document.title).toBe('A meter')
    expect(made.document.stations.map((entry) => entry.id)).toEqual(['a', 'c'])
    expect(visit.address()).toBe('/lessons/12')
  })

  it('keeps at least one station', async () => {
    visit = await plan()
    await choose('A meter')
    await propose()
    const ticks = visit.page.findAll('[data-testid=proposed] input')
    for (const tick of ticks) await tick.trigger('change')
    expect(visit.page.get('[data-testid=proposed]').text()).toContain('one station, 5 min')
  })

  it('makes no lesson out of a proposal for something else', async () => {
    visit = await plan()
    await choose('A meter')
    await propose()
    await choose('A slow sensor')
    expect(visit.page.find('[data-testid=proposed]').exists()).toBe(false)
    expect(visit.page.findAll('button').some((entry) => entry.text() === 'Make the lesson')).toBe(false)
  })

  it('says in a sentence why nothing can be proposed', async () => {
    visit = await plan({
      'POST /api/lessons/propose': refusal(422, 'none', 'no reading tells this fault in 25 minutes'),
    })
    await choose('A meter')
    await propose()
    expect(visit.page.get('aside [role=alert]').text()).toBe('No reading tells this fault in 25 minutes')
  })
})
