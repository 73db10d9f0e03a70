// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { takeAlong } from '@/features/workings/moment'
import WorkingsPage from '@/features/workings/WorkingsPage.vue'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { button, visited, type Visit } from '@/testing/visited'

let visit: Visit
beforeEach(() => {
  // Promises settle as ever; only what waits for a clock waits for the test.
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] })
  sessionStorage.clear()
})
afterEach(() => {
  visit.page.unmount()
  vi.unstubAllGlobals()
  vi.useRealTimers()
  sessionStorage.clear()
})

const input = (symbol: string, unit: string, channel: string, usual: number | null = null) => ({
  ...{ symbol, tex: symbol, label: `input ${symbol}`, unit, channel, default: usual },
})
const VE = {
  ...{
    id: 'volumetric_efficiency',
    label: 'Volumetric efficiency',
    why: 'How full it breathes.',
    source: 'Heywood 1988',
  },
  ...{
    preconditions: ['warm engine'],
    inputs: [input('m', 'g/s', 'maf'), input('n', 'rpm', 'rpm'), input('R', '-', '', 287)],
  },
}
const TRIM = {
  ...VE,
  id: 'total_trim',
  label: 'Sum of trims',
  why: 'Both together.',
  inputs: [input('s', '%', 'short_trim')],
}
const SHEET = {
  used: { m: '4.0 g/s', n: '800 rpm', R: '287' },
  values: { m: 4, n: 800, R: 287 },
  curve: { symbol: 'm', label: 'input m', result_label: 'efficiency', given: [3, 4, 5], result: [0.2, 0.3, 0.4] },
  steps: [
    { label: 'flow', symbol: 'q', formula: 'm', numbers: '4', shown: '4.0', in_units: '', slips: [] },
    {
      ...{ label: 'efficiency', symbol: 'e', formula: 'q/n', numbers: '4/800', shown: '-0.3', in_units: '-30 %' },
      slips: [{ value: '0.6', words: 'one turn instead of two' }],
    },
  ],
  meaning: 'It breathes as it should.',
}
const ANSWERS: Answers = {
  'GET /api/workings': [VE, TRIM],
  'GET /api/recordings': [],
  'POST /api/workings/volumetric_efficiency': SHEET,
  'GET /api/workings/volumetric_efficiency/feed': {
    given: { m: '21 g/s', n: '2500 rpm' },
    sources: { m: 'the meter', n: 'the crank' },
  },
}
const workings = (address = '/workings', answers: Answers = {}) =>
  visited(WorkingsPage, {}, { ...ANSWERS, ...answers }, { address })
const worked = () => visit.calls('POST /api/workings/volumetric_efficiency')
const field = (symbol: string) => visit.page.get<HTMLInputElement>(`#in-${symbol}`)
async function give(values: Record<string, string>) {
  for (const [symbol, text] of Object.entries(values)) await field(symbol).setValue(text)
  await vi.advanceTimersByTimeAsync(300)
  await quiet()
}

describe('a calculation', () => {
  it('waits until every number without a usual value is given', async () => {
    visit = await workings()
    expect(visit.page.text()).toContain('Holds where: warm engine.')
    await give({ m: '4 g/s' })
    expect(worked()).toEqual([])
    expect(visit.page.text()).toContain('Give every number that has no usual value')
    await give({ n: '800' })
    expect(worked().map((one) => one.body)).toEqual([{ given: { m: '4 g/s', n: '800', R: '' }, over: 'm' }])
  })

  it('shows every step with what it means, a true minus, and what slips would give', async () => {
    visit = await workings()
    await give({ m: '4', n: '800' })
    const steps = visit.page.findAll('.steps li').map((step) => step.text())
    expect(steps).toHaveLength(2)
    expect(steps[1]).toContain('= −0.3')
    expect(steps[1]).toContain('one turn instead of two')
    expect(visit.page.text()).toContain('It breathes as it should.')
    expect(visit.page.text()).toContain('Source: Heywood 1988')
    expect(visit.page.findAll('.used').map((used) => used.text())).toEqual(['4.0 g/s', '800 rpm', '287'])
  })

  it('says in a sentence what cannot be read, and shows no older result meanwhile', async () => {
    const answer = ({ body }: Asked) =>
      (body as { given: { m: string } }).given.m === '4' ? SHEET : refusal(422, 'unreadable', 'four is no number')
    visit = await workings('/workings', { 'POST /api/workings/volumetric_efficiency': answer })
    await give({ m: '4', n: '800' })
    expect(visit.page.findAll('.steps li')).toHaveLength(2)
    await give({ m: 'four' })
    expect(visit.page.get('[role=alert]').text()).toBe('Four is no number')
    expect(visit.page.findAll('.steps li')).toHaveLength(0)
    expect(field('m').element.value).toBe('four')
  })

  it('is drawn over another input on request', async () => {
    visit = await workings()
    await give({ m: '4', n: '800' })
    await visit.page.get('.curvehead select').setValue('n')
    await quiet()
    expect(worked().at(-1)!.body).toMatchObject({ over: 'n' })
  })

  it('is found by words in its name or its reason, and has an address of its own', async () => {
    visit = await workings()
    await visit.page.get('input[type=search]').setValue('both')
    expect(visit.page.findAll('nav button').map((entry) => entry.text())).toEqual(['Sum of trims'])
    await visit.page.get('nav button').trigger('click')
    await quiet()
    expect(visit.address()).toBe('/workings?of=total_trim')
    expect(visit.page.get('h2').text()).toBe('Sum of trims')
    await visit.page.get('input[type=search]').setValue('nothing like it')
    expect(visit.page.text()).toContain('Nothing is called so.')
  })
})

describe('where the numbers of a calculation come from', () => {
  it('an engine in a condition, each with where it was read', async () => {
    visit = await workings()
    await button(visit.page, 'Take what this engine shows').trigger('click')
    await quiet()
    expect(visit.calls('GET /api/workings/volumetric_efficiency/feed')[0]?.query).toEqual({
      rig: 'R1',
      condition: 'wot_pull',
    })
    expect(field('m').element.value).toBe('21 g/s')
    expect(visit.page.text()).toContain('the meter')
    await give({})
    expect(worked().at(-1)!.body).toMatchObject({ given: { m: '21 g/s', n: '2500 rpm' } })
  })

  it('and no longer is said to come from there when somebody types another one', async () => {
    visit = await workings()
    await button(visit.page, 'Take what this engine shows').trigger('click')
    await quiet()
    await give({ m: '20 g/s' })
    expect(visit.page.text()).not.toContain('the meter')
    expect(visit.page.text()).toContain('the crank')
  })

  it('a moment that was taken along from the bench', async () => {
    takeAlong({ rig: 'R1', name: 'Morning', seconds: 12.4, values: { maf: 3.5, rpm: 810, short_trim: null } })
    visit = await workings('/workings?from=bench')
    expect([field('m').element.value, field('n').element.value]).toEqual(['3.5 g/s', '810 rpm'])
    expect(visit.page.text()).toContain('Morning, second 12 on the bench')
  })

  it('nothing that was not measured', async () => {
    takeAlong({ rig: 'R1', name: 'Morning', seconds: 12.4, values: { maf: 3.5, rpm: 810, short_trim: null } })
    visit = await workings('/workings?from=bench&of=total_trim')
    expect(field('s').element.value).toBe('')
  })
})
