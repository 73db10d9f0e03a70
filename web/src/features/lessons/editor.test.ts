// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import EditorPage from '@/features/lessons/EditorPage.vue'
import { CATALOGUE } from '@/testing/mounted'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { button, visited, type Visit } from '@/testing/visited'

const CARS = { ...CATALOGUE, scripts: [{ id: 'workshop_day', name: 'A day', conditions: ['hot_idle', 'wot_pull'] }] }

interface Station {
  id: string
  kind: string
  title: string
  text?: string
}
const measure = (id: string, title: string) => ({
  ...{ id, kind: 'measure', title, text: '', minutes: 5 },
  readings: [{ condition: 'hot_idle', channel: 'maf' }],
})
const LESSON = {
  ...{
    title: 'A leak',
    goal: '',
    rig: 'R1',
    script: 'workshop_day',
    drives: [],
    faults: [],
    or_else: [],
    cautions: [],
  },
  ...{ level: '', closed_book: false },
  stations: [measure('a', 'Flow'), measure('b', 'Trims')],
}

let visit: Visit
let server: { draft: typeof LESSON; revision: number; version: number | null }
const told = () => ({ ...server, changed_since_version: true, updated_by: 'Brandt' })
/** What a learner would see of the station that is asked for. */
function preview({ body }: Asked) {
  const { document, station } = body as { document: typeof LESSON; station: number }
  const shown = document.stations[station]!
  const reading = { condition: 'hot_idle', condition_label: 'Hot idle', channel: 'maf', label: 'Mass airflow' }
  return {
    station: {
      ...{ index: station, id: shown.id, kind: shown.kind, title: shown.title, text: '', has_lanes: false },
      ...{ drawing: 'none', channels: [], readings: [{ ...reading, unit: 'g/s', quantity: 'mass_flow' }] },
    },
    ...{ lanes: null, key: { kind: 'measure', parts: [] }, rulings: [] },
  }
}
const ANSWERS: Answers = {
  'GET /api/lessons/7': () => told(),
  'PUT /api/lessons/7/draft': ({ body }: Asked) => {
    server = { ...server, draft: (body as { document: typeof LESSON }).document, revision: server.revision + 1 }
    return told()
  },
  'GET /api/lessons/7/comments': [{ id: 1, station: 'b', settled: false }],
  'GET /api/learners': [],
  'POST /api/preview/station': preview,
  'POST /api/preview/check': { warnings: [{ station: 'b', code: 'x', text: 'Not shown.', remedies: [] }] },
}

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] })
  localStorage.clear()
  server = { draft: LESSON, revision: 4, version: 2 }
})
afterEach(async () => {
  visit.page.unmount()
  await quiet() // what is not saved yet is saved on leaving
  vi.unstubAllGlobals()
  vi.useRealTimers()
  localStorage.clear()
})

const STUBS = { LessonForm: true, StationForm: true, DifficultyPanel: true, TakeAlong: true, StationComments: true }
async function editor(answers: Answers = {}) {
  visit = await visited(EditorPage, { id: '7' }, { ...ANSWERS, ...answers }, { stubs: STUBS, catalogue: CARS })
  await rest()
}
async function rest(ms = 1000) {
  await vi.advanceTimersByTimeAsync(ms)
  await quiet()
}
const thread = () => visit.page.getComponent({ name: 'StationThread' })
const ids = () => (thread().props('stations') as Station[]).map((station) => station.id)
const selected = () => thread().props('selected') as number
const previews = () =>
  visit.calls('POST /api/preview/station').map((one) => one.body as { station: number; seed: number })
async function pick(index: number) {
  thread().vm.$emit('pick', index)
  await rest()
}
async function ask(event: string, ...values: unknown[]) {
  thread().vm.$emit(event, ...values)
  await rest()
}
const form = () => visit.page.getComponent({ name: 'StationForm' })

describe('the editor', () => {
  it('begins with the whole lesson, and shows the first station that shows signals', async () => {
    await editor()
    expect(visit.page.findComponent({ name: 'LessonForm' }).exists()).toBe(true)
    expect(previews()).toHaveLength(1)
    expect(previews()[0]!.station).toBe(0)
    expect(visit.page.get('.station-title').text()).toBe('Flow')
  })

  it('marks what is unfair and what a colleague has said', async () => {
    await editor()
    expect(thread().props('warned')).toEqual(['b'])
    expect(thread().props('commented')).toEqual(['b'])
    expect(visit.page.get('.fair').text()).toContain('Not shown.')
  })

  it('shows the chosen station as a learner gets it, with an engine of their own on request', async () => {
    await editor()
    await pick(1)
    expect(visit.page.get('.station-title').text()).toBe('Trims')
    expect(previews().at(-1)).toMatchObject({ station: 1, seed: 0 })
    await button(visit.page, 'a learner’s').trigger('click')
    await rest()
    expect(previews().at(-1)).toMatchObject({ station: 1, seed: 1 })
    await button(visit.page, 'learner 1, next').trigger('click')
    await rest()
    expect(previews().at(-1)).toMatchObject({ seed: 2 })
  })

  it('takes words into the picture at once and computes nothing for them', async () => {
    await editor()
    await pick(1)
    const before = previews().length
    form().vm.$emit('change', { ...LESSON.stations[1]!, title: 'Fuel trims' })
    await quiet()
    expect(visit.page.get('.station-title').text()).toBe('Fuel trims')
    await rest()
    expect(previews()).toHaveLength(before)
    expect(server.draft.stations[1]!.title).toBe('Fuel trims')
  })

  it('computes anew for what the station asks', async () => {
    await editor()
    await pick(1)
    const before = previews().length
    form().vm.$emit('change', { ...LESSON.stations[1]!, readings: [{ condition: 'wot_pull', channel: 'maf' }] })
    await rest()
    expect(previews()).toHaveLength(before + 1)
  })

  it('moves, takes out and adds stations, and keeps the one in hand in sight', async () => {
    await editor()
    await ask('place', 0, 1)
    expect(ids()).toEqual(['b', 'a'])
    expect(selected()).toBe(1)
    await ask('place', 1, 2)
    expect(ids()).toEqual(['b', 'a'])
    await ask('add', 'measure')
    expect(ids()).toHaveLength(3)
    expect(selected()).toBe(2)
    expect(new Set(ids()).size).toBe(3)
    await ask('remove', 2)
    expect(selected()).toBe(1)
    expect(server.draft.stations.map((station) => station.id)).toEqual(['b', 'a'])
  })

  it('gives a new station a condition and a value that this engine has', async () => {
    await editor()
    await ask('add', 'measure')
    const made = server.draft.stations[2] as unknown as { readings: { condition: string; channel: string }[] }
    for (const reading of made.readings ?? []) {
      expect(['hot_idle', 'wot_pull']).toContain(reading.condition)
      expect(['maf', 'maf_true']).toContain(reading.channel)
    }
  })

  it('never takes out the last station', async () => {
    server.draft = { ...LESSON, stations: LESSON.stations.slice(0, 1) }
    await editor()
    await ask('remove', 0)
    expect(ids()).toEqual(['a'])
  })

  it('pastes a copy behind the chosen station, under a name of its own', async () => {
    await editor()
    await ask('copy', 1)
    await pick(0)
    await ask('paste')
    expect(ids()).toHaveLength(3)
    expect(selected()).toBe(1)
    expect((thread().props('stations') as Station[])[1]!.title).toBe('Trims')
    expect(new Set(ids()).size).toBe(3)
  })

  it('undoes and redoes by key, but leaves a field its own undo', async () => {
    await editor()
    await ask('remove', 0)
    const press = async (on: EventTarget, shiftKey = false) => {
      on.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, shiftKey, bubbles: true }))
      await rest()
    }
    const field = document.createElement('input')
    document.body.append(field)
    await press(field)
    expect(ids()).toEqual(['b'])
    field.remove()
    await press(window)
    expect(ids()).toEqual(['a', 'b'])
    await press(window, true)
    expect(ids()).toEqual(['b'])
  })

  it('publishes only what the server has, and says how many got it', async () => {
    const version = { number: 3, assigned: 2 }
    await editor({ 'POST /api/lessons/7/publish': version })
    await pick(1)
    form().vm.$emit('change', { ...LESSON.stations[1]!, title: 'Fuel trims' })
    await quiet()
    const dialog = () => visit.page.getComponent({ name: 'PublishDialog' })
    await button(visit.page, 'Publish').trigger('click')
    await quiet()
    expect(server.draft.stations[1]!.title).toBe('Fuel trims')
    expect(dialog().props('open')).toBe(true)
    dialog().vm.$emit('published', version)
    await quiet()
    expect(dialog().props('open')).toBe(false)
    expect(visit.page.get('.bar').text()).toContain('Version 3 is what learners have')
    expect(button(visit.page, 'Publish').attributes('disabled')).toBeDefined()
  })

  it('does not publish what could not be saved', async () => {
    await editor({ 'PUT /api/lessons/7/draft': () => refusal(422, 'bad', 'station 2 has no reading') })
    await pick(1)
    form().vm.$emit('change', { ...LESSON.stations[1]!, title: 'Fuel trims' })
    await rest()
    await button(visit.page, 'Publish').trigger('click')
    await quiet()
    expect(visit.page.getComponent({ name: 'PublishDialog' }).props('open')).toBe(false)
    expect(visit.page.get('.problem').text()).toBe('Station 2 has no reading')
  })

  it('says why a station cannot be shown', async () => {
    await editor({ 'POST /api/preview/station': refusal(422, 'signal', 'this engine has no meter') })
    expect(visit.page.get('.right [role=alert]').text()).toBe('This engine has no meter')
  })
})
