// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { placed } from '@/features/lessons/stations'
import en from '@/messages/en'
import type { Answer, View } from '@/parts/stations/kind'
import { answerTo, freshId, KINDS, kindOf, lacking, newStation } from '@/parts/stations/kinds'
import StationBody from '@/parts/stations/StationBody.vue'
import { mounted } from '@/testing/mounted'

const READING = {
  condition: 'hot_idle',
  condition_label: 'Hot idle',
  channel: 'maf',
  label: 'MAF, scan value, mean',
  stat: 'mean',
  stat_label: 'mean',
  quantity: 'mass_flow',
  layer: 'scan',
  family: 'airflow',
  step: 0.01,
  digits: 2,
  value: 2.5,
  unit: 'g/s',
  substitute: false,
}
const HEADING = { index: 0, id: 's', title: 'T', text: '', rig: 'R1', has_lanes: false, problem: '', final: false }
const VIEWS: View[] = [
  { ...HEADING, kind: 'explain', drawing: 'none', pictures: [] },
  { ...HEADING, kind: 'show', channels: ['maf'], show_good: true, focus: null },
  { ...HEADING, kind: 'measure', readings: [READING], channels: ['maf'], focus: 'hot_idle' },
  { ...HEADING, kind: 'judge', readings: [READING, READING] },
  { ...HEADING, kind: 'conclude', readings: [READING], causes: [{ id: '0', label: 'A leak' }] },
  { ...HEADING, kind: 'myth', statements: [{ id: '0', text: 'A beep proves the ground.' }] },
  { ...HEADING, kind: 'predict', readings: [READING, READING], what_if: 'A leak' },
  { ...HEADING, kind: 'separate', causes: ['A leak', 'A meter'], tests: [{ id: '0', label: 'Smoke', minutes: 20 }] },
  { ...HEADING, kind: 'reflect', words: 2 },
  {
    ...HEADING,
    kind: 'plates',
    plates: [{ look: 't2', sight: 'black' }],
    meanings: [{ id: '0', label: 'rich running' }],
  },
  {
    ...HEADING,
    kind: 'pins',
    states: ['key on'],
    pins: [{ letter: 'A', volts: [5] }],
    roles: [{ id: '0', label: 'supply' }],
  },
  {
    ...HEADING,
    kind: 'sheet',
    words: 1,
    traces: [],
    sheets: [
      [READING, READING],
      [READING, READING],
    ],
  },
  {
    ...HEADING,
    kind: 'sketch',
    what_if: '',
    trace: { ...READING, seconds: [0, 1, 2], sound: [3, null, 3], knots: [0.5, 1.5], low: 0, high: 9 },
  },
  {
    ...HEADING,
    kind: 'live',
    channels: ['maf'],
    hands: ['hoses'],
    instruments: ['Smoke'],
    readings: [READING],
    words: 2,
  },
  {
    ...HEADING,
    kind: 'match',
    places: [READING],
    values: [{ id: '0', quantity: 'mass_flow', step: 0.01, digits: 2, value: 2.5 }],
  },
  {
    ...HEADING,
    kind: 'procedure',
    cautions: ['Hot parts burn.'],
    stages: [{ id: '1', situation: 'It sits fast.', choices: [{ id: '0', text: 'Wait' }] }],
  },
  { ...HEADING, kind: 'own', cautions: ['Hot parts.'], readings: [READING], error_percent: 2 },
  {
    ...HEADING,
    kind: 'order',
    causes: ['A leak', 'A meter'],
    tests: [{ id: '0', label: 'Smoke', minutes: 20, exchange: false }],
  },
  {
    ...HEADING,
    kind: 'verify',
    complaint: 'hot_idle',
    complaint_label: 'Hot idle',
    readings: [{ ...READING, after: 2.6, driven: true }],
  },
  {
    ...HEADING,
    kind: 'calculate',
    working: 'Air density',
    given: [{ symbol: 'p', tex: 'p', label: 'pressure', value: '101 kPa', source: '' }],
    steps: [{ symbol: 'rho', tex: '\\rho', label: 'air density', formula: '' }],
  },
]

describe('stations of a draft', () => {
  it('get a name that no other station has', () => {
    expect(freshId('judge', ['judge-1', 'show-2'])).toBe('judge-2')
  })
  it('change places, and stay where they are at the ends', () => {
    const all = KINDS.map((kind) => newStation(kind, kind, []))
    expect(placed(all, 1, 0).map((s) => s.kind)[0]).toBe(KINDS[1])
    expect(placed(all, 0, -1)).toEqual(all)
    expect(placed(all, all.length - 1, all.length)).toEqual(all)
  })
  it.each(KINDS)('of kind %s ask or show something at once', (kind) => {
    const station = newStation(kind, 'Title', [])
    if (station.kind === 'judge') expect(station.pool.length).toBeGreaterThanOrEqual(station.count ?? 0)
    if (station.kind === 'conclude') expect(station.causes).toContain(null)
    expect(station.title).toBe('Title')
  })
})

it('marks a value that the control unit has made up', () => {
  const lost: View = { ...HEADING, kind: 'judge', readings: [READING, { ...READING, substitute: true }] }
  const page = mounted(StationBody, { station: lost, answer: answerTo(lost), rig: 'R1' })
  expect(page.find('[data-testid="row-0"]').text()).not.toContain(en.player.substitute)
  expect(page.find('[data-testid="row-1"]').text()).toContain(en.player.substitute)
  page.unmount()
})

describe.each(VIEWS)('a station of kind $kind', (view) => {
  const asks = view.kind !== 'explain' && view.kind !== 'show'

  it('has a name and a sentence for what is missing', () => {
    const words = en.stations[view.kind]!
    expect(words.name).toBeTruthy()
    const lacks = lacking(view, answerTo(view))
    expect(lacks !== undefined).toBe(asks)
    if (lacks) expect(words[lacks.split('.').at(-1)!]).toMatch(/\.$/)
  })

  it('takes up what was answered before, also without its kind', () => {
    const given = {
      reading: '1 g/s',
      verdicts: ['good', 'good'],
      cause: '0',
      seen: true,
      said: { 0: 'true' },
      ways: ['higher', 'same'],
      test: '0',
      text: 'two words',
      order: ['0'],
      state: 'mended',
      values: ['0'],
      readings: [{ kind: 'own', value: '2.5 g/s', verdict: 'good' }],
      heeded: true,
      done: { 1: '0' },
      steps: { rho: '1.2 kg/m³' },
      typed: ['2.5 g/s'],
      noticed: 'it hunts',
      drawn: [3, 4],
      roles: ['0'],
      engines: [
        { kind: 'sheet', verdict: 'sound', tells: null },
        { kind: 'sheet', verdict: 'faulty', tells: 1 },
      ],
      meanings: ['0'],
      why: 'it hunts',
    }
    expect(lacking(view, answerTo(view, given))).toBeUndefined()
    expect(answerTo(view, given).kind).toBe(view.kind)
  })

  it('lets a person answer it', async () => {
    let answer: Answer = answerTo(view)
    const page = mounted(StationBody, { station: view, answer, rig: 'R1', onChange: (next: Answer) => (answer = next) })
    for (const take of page.findAll('button.take')) {
      await take.trigger('click')
      await page.setProps({ answer })
    }
    for (const tick of page.findAll('input[type=checkbox]')) {
      await tick.setValue(true)
      await page.setProps({ answer })
    }
    for (const choice of page.findAll('select')) {
      await choice.setValue('0')
      await page.setProps({ answer })
    }
    for (const input of page.findAll('input, textarea')) {
      if (input.attributes('type') === 'checkbox') continue
      if (input.attributes('type') === 'radio') await input.trigger('change')
      else await input.setValue('2.5 g/s')
      await page.setProps({ answer })
    }
    expect(lacking(view, answer)).toBeUndefined()
    page.unmount()
  })

  it('has a form, and shows its key and its mark where it asks', () => {
    const kind = kindOf(view)
    expect(kind.form).toBeTruthy()
    expect([kind.keyed !== undefined, kind.debrief !== undefined]).toEqual([asks, asks])
  })
})
