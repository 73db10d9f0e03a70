// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import BenchPage from '@/features/bench/BenchPage.vue'
import RecordPart from '@/features/bench/live/RecordPart.vue'
import { FRAME } from '@/features/bench/live/series'
import KeptReadings from '@/features/bench/slips/KeptReadings.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)
const AT = '2026-11-02T08:30:00Z'

describe('readings that were kept', () => {
  const reading = (value: number, more: object = {}) => ({
    ...{ label: 'Mass airflow', text: `${value} g/s`, where: 'maf, Hot idle', at: AT },
    ...{ reading: { what: 'maf', condition: 'hot_idle', value } },
    ...more,
  })
  const VERDICT = { verdict: 'faulty', reason: '4.10 lies above 3.20.' }
  const TOGETHER = {
    relations: [{ verdict: 'suspect', label: 'air and fuel', condition: 'hot_idle', reason: 'They part by 12 %.' }],
    ...{ known: 1, tests: [{ label: 'Smoke', minutes: 19.6 }], advice: 'Look at the hoses first.' },
  }
  const ANSWERS: Answers = { 'POST /api/rigs/R1/judged': VERDICT, 'POST /api/rigs/R1/judged-together': TOGETHER }
  const kept = (readings: object[], answers: Answers = {}) =>
    visited(KeptReadings, { readings, rig: 'R1' }, { ...ANSWERS, ...answers })
  const changed = () => visit.page.emitted('change')?.at(-1)?.[0] as { verdict?: object; text: string }[]

  it('say what, where and when, and are judged one by one beside sound engines', async () => {
    visit = await kept([reading(2.5), reading(4.1)])
    expect(visit.page.findAll('li')[1]!.text()).toContain('4.1 g/s')
    await visit.page.findAll('button.judge')[1]!.trigger('click')
    await quiet()
    expect(visit.calls('POST /api/rigs/R1/judged')[0]?.body).toEqual({
      what: 'maf',
      condition: 'hot_idle',
      value: 4.1,
    })
    expect(changed().map((entry) => entry.verdict)).toEqual([undefined, VERDICT])
  })

  it('that were judged keep their verdict and its reason', async () => {
    visit = await kept([reading(4.1, { verdict: VERDICT })])
    expect(visit.page.get('li').text()).toContain('4.10 lies above 3.20.')
    expect(visit.page.find('button.judge').exists()).toBe(false)
  })

  it('without a value that can be judged are only kept', async () => {
    visit = await kept([reading(0, { text: 'smoke at the hose', reading: undefined })])
    expect(visit.page.find('button.judge').exists()).toBe(false)
    expect(visit.page.find('button.together').exists()).toBe(false)
  })

  it('of an earlier time, that name no thing by its id, are only kept', async () => {
    visit = await kept([reading(2.5, { reading: { label: 'MAF', condition: 'hot_idle', value: 2.5 } })])
    expect(visit.page.get('li').text()).toContain('2.5 g/s')
    expect(visit.page.find('button.judge').exists() || visit.page.find('button.together').exists()).toBe(false)
  })

  it('are taken away one by one', async () => {
    visit = await kept([reading(2.5), reading(4.1)])
    await visit.page.findAll('button.away')[0]!.trigger('click')
    expect(changed().map((entry) => entry.text)).toEqual(['4.1 g/s'])
  })

  it('are looked at together: what must agree, and what would decide', async () => {
    visit = await kept([reading(2.5), reading(4.1)])
    await visit.page.get('button.together').trigger('click')
    await quiet()
    const told = visit.page.get('[role=status]').text()
    expect(told).toContain('air and fuel')
    expect(told).toContain('They part by 12 %.')
    expect(told).toContain('Smoke, 20 min')
    expect(told).toContain('Look at the hoses first.')
    await visit.page.setProps({ readings: [reading(2.5)] })
    await quiet()
    expect(visit.page.find('[role=status]').exists()).toBe(false)
  })

  it('say that causes are still being simulated, and that nothing would decide', async () => {
    const early = { ...TOGETHER, relations: [], tests: [], known: 0.4 }
    visit = await kept([reading(2.5)], { 'POST /api/rigs/R1/judged-together': early })
    await visit.page.get('button.together').trigger('click')
    await quiet()
    expect(visit.page.get('[role=status]').text()).toContain('(40 %)')
    expect(visit.page.get('[role=status]').text()).not.toContain('No test would tell much more.')
  })

  it('stay when they cannot be judged, and why is said', async () => {
    const refused = refusal(422, 'band', 'there is no band for this')
    visit = await kept([reading(2.5)], { 'POST /api/rigs/R1/judged': refused })
    await visit.page.get('button.judge').trigger('click')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('There is no band for this')
    expect(visit.page.emitted('change')).toBeUndefined()
  })
})

describe('recordings of a bench', () => {
  const ROW = { id: 4, name: 'Morning', seconds: 61.2, rig: 'R1', made_at: AT }
  const ANSWERS: Answers = {
    'GET /api/recordings': [ROW],
    'POST /api/benches/7/record': {},
    'POST /api/recordings': {},
    'DELETE /api/recordings/4': [],
    'GET /api/recordings/4/lanes': { time: [30, 30.5, 31], lanes: { maf: { healthy: [1, 2, 3] } } },
    'POST /api/lessons/from-bench': { document: { title: 'Driven' }, left_out: [] },
    'POST /api/lessons': { id: 12 },
  }
  const records = (props: object = {}, who = PEOPLE.trainer, answers: Answers = {}) =>
    visited(
      RecordPart,
      {
        ...{ bench: 7, rig: 'R1', channels: ['maf', 'rpm'], lanes: ['maf'] },
        ...{ view: () => [20, 40], seconds: () => 100 },
        ...props,
      },
      { ...ANSWERS, ...answers },
      { who },
    )
  const press = async (words: string) => {
    await button(visit.page, words).trigger('click')
    await quiet()
  }
  const frames = (seconds: number) => Math.floor(seconds / FRAME)

  it('keep the last minute, or what is in view, under a name', async () => {
    visit = await records()
    await visit.page.get('input[type=text]').setValue('Cold start')
    await press('Keep the last minute')
    await press('Keep what is in view')
    const sent = visit.calls('POST /api/benches/7/record').map((one) => one.body)
    expect(sent).toEqual([
      { name: 'Cold start', first: frames(40), last: frames(100), channels: ['maf', 'rpm'] },
      { name: 'Recording', first: frames(20), last: frames(40), channels: ['maf', 'rpm'] },
    ])
    expect(visit.calls('GET /api/recordings').length).toBeGreaterThan(1)
  })

  it('never reach before the beginning or beyond now', async () => {
    visit = await records({ view: () => [-5, 500], seconds: () => 30 })
    await press('Keep the last minute')
    await press('Keep what is in view')
    const sent = visit.calls('POST /api/benches/7/record').map((one) => one.body as { first: number; last: number })
    expect(sent.map(({ first, last }) => [first, last])).toEqual([
      [0, frames(30)],
      [0, frames(30)],
    ])
  })

  it('are laid over what runs from now on, beginning with themselves, and taken off', async () => {
    visit = await records({ view: () => [60, 100] })
    await press('Lay over')
    const ghost = visit.page.emitted('lay')?.[0]?.[0]
    expect(ghost).toMatchObject({ id: 4, name: 'Morning', offset: 100, time: [0, 0.5, 1] })
    await visit.page.setProps({ ghost })
    await press('Take off')
    expect(visit.page.emitted('lay')?.[1]).toEqual([undefined])
  })

  it('are laid where somebody looks back', async () => {
    visit = await records()
    await press('Lay over')
    expect(visit.page.emitted('lay')?.[0]?.[0]).toMatchObject({ offset: 20 })
  })

  it('are given away in two open formats, and deleted', async () => {
    visit = await records()
    expect(visit.page.findAll('li a').map((link) => link.attributes('href'))).toEqual([
      '/api/recordings/4/file?format=csv',
      '/api/recordings/4/file?format=mf4',
    ])
    expect(visit.page.get('li').text()).toContain('61 s, R1')
    await visit.page.get('button[aria-label="Delete Morning"]').trigger('click')
    await quiet()
    expect(visit.page.findAll('li')).toHaveLength(0)
  })

  it('become the drive of a lesson for who makes lessons', async () => {
    visit = await records()
    await press('Lesson from what is in view')
    expect(visit.calls('POST /api/lessons/from-bench')[0]?.body).toEqual({
      ...{ bench: 7, name: 'Driven on the bench', first: frames(20), last: frames(40), channels: ['maf'] },
    })
    expect(visit.address()).toBe('/lessons/12')
    visit.page.unmount()
    visit = await records({}, { ...PEOPLE.learner, bench: true })
    expect(visit.page.text()).not.toContain('Lesson from')
  })

  it('say in a sentence what could not be kept, and leave the name', async () => {
    const refused = refusal(422, 'long', 'at most ten minutes are kept')
    visit = await records({}, PEOPLE.trainer, { 'POST /api/benches/7/record': refused })
    await visit.page.get('input[type=text]').setValue('Cold start')
    await press('Keep the last minute')
    expect(visit.page.get('[role=alert]').text()).toBe('At most ten minutes are kept')
    expect(visit.page.get<HTMLInputElement>('input[type=text]').element.value).toBe('Cold start')
  })
})

describe('benches of a person', () => {
  const bench = (id: number, rig: string, doings = 0) => ({ id, rig, name: rig, doings })
  const running = () => visit.page.getComponent({ name: 'RunningBench' })
  const benches = (list: object[], address = '/bench', answers: Answers = {}) => {
    let known = list
    const made = { ...bench(9, 'R3') }
    const all: Answers = {
      'GET /api/benches': () => known,
      'POST /api/benches': () => {
        known = [...known, made]
        return made
      },
      'DELETE /api/benches/1': () => (known = known.filter((entry) => (entry as { id: number }).id !== 1)),
      ...answers,
    }
    return visited(BenchPage, {}, all, { address, stubs: { RunningBench: true } })
  }

  it('begin with an engine that runs', async () => {
    visit = await benches([])
    expect(visit.calls('POST /api/benches').map((one) => one.body)).toEqual([{ beginning: { rig: 'R1' }, name: '' }])
    expect(running().props('bench')).toMatchObject({ id: 9 })
    expect(visit.address()).toBe('/bench?bench=9')
  })

  it('go on where they were left, at the one that the address names', async () => {
    visit = await benches([bench(1, 'R1'), bench(2, 'R2')])
    expect(running().props('bench')).toMatchObject({ id: 1 })
    visit.page.unmount()
    visit = await benches([bench(1, 'R1'), bench(2, 'R2')], '/bench?bench=2')
    expect(running().props('bench')).toMatchObject({ id: 2 })
    running().vm.$emit('bench', 1)
    await quiet()
    expect(visit.address()).toBe('/bench?bench=1')
    expect(visit.calls('POST /api/benches')).toEqual([])
  })

  it('give their place to another engine only where nothing was done on them', async () => {
    visit = await benches([bench(1, 'R1')])
    running().vm.$emit('rig', 'R3')
    await quiet()
    expect(visit.calls('DELETE /api/benches/1')).toHaveLength(1)
    expect(running().props('bench')).toMatchObject({ id: 9 })
    visit.page.unmount()
    visit = await benches([bench(1, 'R1', 4)])
    running().vm.$emit('rig', 'R3')
    await quiet()
    expect(visit.calls('DELETE /api/benches/1')).toEqual([])
  })

  it('say why there can be no more of them, and the old one runs on', async () => {
    const refused = refusal(409, 'full', 'you have ten benches; close one first')
    visit = await benches([bench(1, 'R1')], '/bench', { 'POST /api/benches': refused })
    const failed = vi.fn()
    visit.page.vm.$.appContext.config.errorHandler = failed
    running().vm.$emit('rig', 'R3')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('You have ten benches; close one first')
    expect(running().props('bench')).toMatchObject({ id: 1 })
    expect(visit.calls('DELETE /api/benches/1')).toEqual([])
    expect(failed).not.toHaveBeenCalled()
  })
})
