// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import PlayerPage from '@/features/practice/PlayerPage.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { PEOPLE, visited, type Visit } from '@/testing/visited'

/** A server that holds an attempt at one station where a value is measured, and answers what is handed in one by one. */
let answers: unknown[]
let visit: Visit

const ATTEMPT = {
  id: 7,
  title: 'A leak',
  goal: 'tell a leak',
  cautions: [],
  rig: 'R1',
  finished: false,
  stations: [{ index: 0, title: 'Trim', kind: 'measure', open: true, answered: false }],
}
const STATION = {
  station: {
    index: 0,
    kind: 'measure',
    title: 'Trim',
    text: '',
    has_lanes: false,
    drawing: 'none',
    channels: [],
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
  answer: null,
}

const ANSWERS: Answers = {
  'GET /api/attempts/7': ATTEMPT,
  'GET /api/attempts/7/stations/0': STATION,
  'POST /api/attempts/7/stations/0/answer': () => answers.shift(),
  'POST /api/attempts/7/finish': { finished: true },
}

async function player() {
  const stubs = { ThreadLine: true, CautionNote: true }
  visit = await visited(PlayerPage, { id: '7' }, ANSWERS, { who: PEOPLE.learner, address: '/attempts/7', stubs })
  return visit.page
}
const posted = () => visit.asked.filter((one) => one.path.endsWith('/answer'))

leaveAfterEach(() => visit.page)

describe('player', () => {
  let page: Visit['page']
  beforeEach(() => {
    answers = []
    localStorage.clear()
  })

  it('says what is missing and sends nothing', async () => {
    page = await player()
    await page.get('form').trigger('submit')
    expect(page.get('[role=alert]').text()).toContain('No reading is entered yet')
    expect(posted()).toEqual([])
  })

  it('keeps an answer on the device until the server has it, and sends it again under the same id', async () => {
    answers = [refusal(503, 'busy', 'The server restarts.'), { next: null }]
    page = await player()
    await page.get('input').setValue('4.5 g/s')
    await page.get('form').trigger('submit')
    await quiet()
    expect(page.get('[role=alert]').text()).toBe('The server restarts.')
    expect(localStorage.length).toBe(1)
    await page.get('form').trigger('submit')
    await quiet()
    const [first, second] = posted()
    expect(first!.body).toEqual({ answer: { kind: 'measure', reading: '4.5 g/s' } })
    expect(second).toEqual(first)
    expect(localStorage.length).toBe(0)
    expect(visit.address()).toBe('/attempts/7/debrief')
  })

  it('sends a changed answer under an id of its own', async () => {
    answers = [refusal(503, 'busy', 'Busy.'), { next: null }]
    page = await player()
    await page.get('input').setValue('4.5 g/s')
    await page.get('form').trigger('submit')
    await quiet()
    await page.get('input').setValue('5.5 g/s')
    await page.get('form').trigger('submit')
    await quiet()
    const [first, second] = posted()
    expect(second!.change).not.toBe(first!.change)
  })

  it('comes back with what was typed before the page was left', async () => {
    page = await player()
    await page.get('input').setValue('3.3 g/s')
    page.unmount()
    page = await player()
    expect((page.get('input').element as HTMLInputElement).value).toBe('3.3 g/s')
  })
})
