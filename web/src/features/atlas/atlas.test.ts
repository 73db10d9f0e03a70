// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import AtlasPage from '@/features/atlas/AtlasPage.vue'
import CircuitPart from '@/features/atlas/CircuitPart.vue'
import DevicePage from '@/features/atlas/DevicePage.vue'
import GlossaryPage from '@/features/atlas/GlossaryPage.vue'
import SchoolCard from '@/features/atlas/SchoolCard.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { CATALOGUE } from '@/testing/mounted'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
leaveAfterEach(() => visit.page)

const sensor = (id: string, term: string) => ({
  id,
  term,
  name: term,
  place: 'intake',
  family: 'airflow',
  channels: [],
})
const CARS = {
  ...CATALOGUE,
  rigs: [
    { ...CATALOGUE.rigs[0]!, sensors: [sensor('maf', 'MAF'), sensor('ho2s_b1s2', 'HO2S')] },
    { ...CATALOGUE.rigs[0]!, id: 'R4', name: 'Ferry shuttle', sensors: [] },
  ],
}
const STUBS = { ThreadLine: true, TermText: { props: ['text'], template: '<span>{{ text }}</span>' }, ProseText: true }
const PAGES = [
  {
    id: 'meter',
    title: 'Airflow meter',
    family: 'airflow',
    rigs: ['R1'],
    sensors: ['maf'],
    stations: [],
    channels: [],
    summary: 'It weighs air.',
  },
  {
    id: 'wideband',
    title: 'Wideband sensor',
    family: 'oxygen',
    rigs: ['R4'],
    sensors: [],
    stations: [],
    channels: [],
    summary: 'It pumps.',
  },
]
const TERMS = [
  { term: 'MAF', full: 'mass airflow', also: ['air mass meter'], means: 'Air by weight.', page: 'meter' },
  { term: 'ECT', full: 'engine coolant temperature', also: [], means: 'How warm it is.', page: '' },
]
const LISTS: Answers = { 'GET /api/atlas': { pages: PAGES, drawings: [] }, 'GET /api/glossary': TERMS }

describe('the index of the atlas', () => {
  const atlas = (address = '/atlas') => visited(AtlasPage, {}, LISTS, { address, stubs: STUBS, catalogue: CARS })

  it('lets the pages of an engine stand out, and leads to the others on an engine that has them', async () => {
    visit = await atlas()
    const entries = visit.page.findAll('section li')
    expect(entries.map((entry) => entry.get('a').attributes('href'))).toEqual([
      '/atlas/meter?rig=R1',
      '/atlas/wideband?rig=R4',
    ])
    expect(entries[1]!.text()).toContain('Not on this engine')
    visit.page.getComponent({ name: 'EngineSelect' }).vm.$emit('choose', 'R4')
    await quiet()
    expect(visit.address()).toBe('/atlas?rig=R4')
    expect(visit.page.findAll('section li')[0]!.text()).toContain('Not on this engine')
  })

  it('leads from a knot of the thread to its device, and nowhere from one without a page', async () => {
    visit = await atlas('/atlas?rig=R1')
    const thread = visit.page.getComponent({ name: 'ThreadLine' })
    const knots = thread.props('knots') as { id: string; minor: boolean }[]
    expect(knots.map((knot) => knot.minor)).toEqual([false, true])
    thread.vm.$emit('pick', 'ho2s_b1s2')
    await quiet()
    expect(visit.address()).toBe('/atlas?rig=R1')
    thread.vm.$emit('pick', 'maf')
    await quiet()
    expect(visit.address()).toBe('/atlas/meter?rig=R1')
  })
})

describe('a device of the atlas', () => {
  const DEVICE = {
    ...{ id: 'meter', title: 'Airflow meter', summary: 'It weighs air.', also: ['air mass meter'], rig: 'R1' },
    ...{ rigs: ['R1', 'R4'], order: ['maf', 'ho2s_b1s2', 'elsewhere'], inside: 'A hot film.', types: [] as object[] },
    places: [{ id: 'ho2s_b1s2', term: 'HO2S', name: 'rear sensor', place: 'behind the catalyst' }],
    drawings: [
      { id: 'film', label: 'The film' },
      { id: 'bridge', label: 'The bridge' },
    ],
    ...{ wires: [], good: [], faults: [], myths: [], schools: [] },
    tests: [{ way: 'Unplug it', how: 'Look at trims.', misses: 'a dirty film', cautions: ['Hot parts.'] }],
    workings: [{ id: 've', label: 'Volumetric efficiency' }],
  }
  const ANSWERS: Answers = { ...LISTS, 'GET /api/atlas/pages/meter': DEVICE }
  const stubs = { ...STUBS, ExplorerPanel: true, GoodPart: true }
  const device = (address: string, answers: Answers = {}) =>
    visited(DevicePage, { id: 'meter' }, { ...ANSWERS, ...answers }, { address, stubs, catalogue: CARS })
  const drawing = () => visit.page.getComponent({ name: 'ExplorerPanel' }).props('drawing') as string

  it('has only the parts of which there is something to say, and names them at the top', async () => {
    visit = await device('/atlas/meter?rig=R1')
    const contents = visit.page.findAll('nav a').map((link) => link.attributes('href'))
    expect(contents).toEqual(['#inside', '#drawings', '#good', '#tests', '#workings'])
    for (const hash of contents) expect(visit.page.find(hash!).exists()).toBe(true)
    expect(visit.page.find('#myths').exists()).toBe(false)
  })

  it('sits at its knot of the thread, with bank and place of an oxygen sensor', async () => {
    visit = await device('/atlas/meter?rig=R1')
    const knots = visit.page.getComponent({ name: 'ThreadLine' }).props('knots') as { id: string; minor: boolean }[]
    expect(knots.map((knot) => [knot.id, knot.minor])).toEqual([
      ['maf', true],
      ['ho2s_b1s2', false],
    ])
    expect(visit.page.get('.places').text()).toContain('(Bank 1, sensor 2)')
  })

  it('opens at the drawing of its address, else at the first; another is chosen by hand', async () => {
    visit = await device('/atlas/meter?drawing=bridge')
    expect(drawing()).toBe('bridge')
    await button(visit.page, 'The film').trigger('click')
    expect(drawing()).toBe('film')
    visit.page.unmount()
    visit = await device('/atlas/meter?drawing=gone')
    expect(drawing()).toBe('film')
  })

  it('says of each test what it misses, and what to mind', async () => {
    visit = await device('/atlas/meter')
    const row = visit.page.get('#tests tbody tr').text()
    expect(row).toContain('a dirty film')
    expect(row).toContain('Mind: Hot parts.')
    expect(visit.page.get('#workings a').attributes('href')).toBe('/workings?of=ve')
  })

  it('is looked at on another engine under an address of its own', async () => {
    visit = await device('/atlas/meter?rig=R1')
    visit.page.getComponent({ name: 'PickOne' }).vm.$emit('choose', 'R4')
    await quiet()
    expect(visit.address()).toBe('/atlas/meter?rig=R4')
    expect(visit.calls('GET /api/atlas/pages/meter').map((one) => one.query.rig)).toEqual(['R1', 'R4'])
  })

  it('that is not there is said to be not there', async () => {
    visit = await device('/atlas/meter', {
      'GET /api/atlas/pages/meter': refusal(404, 'none', 'there is no such device'),
    })
    expect(visit.page.get('[role=alert]').text()).toBe('There is no such device')
  })
})

describe('the wires of a device', () => {
  const state = (id: string, label: string, volts: number) => ({
    ...{ id, label, plug_off: id === 'key_on_off' },
    wires: [
      {
        role: 'signal',
        joints: [
          { name: 'unit.maf', volts, label: 'control unit: MAF' },
          { name: 'maf.signal', volts: 0.004, label: 'MAF plug: signal' },
          { name: 'cell', volts: 1, label: 'inside the sensor' },
        ],
      },
    ],
  })
  const STATES = [state('key_on', 'key on', 1.52), state('key_on_off', 'key on, plug off', -0.031)]
  const circuit = () => visited(CircuitPart, { rig: 'R1', wire: 'maf' }, { 'GET /api/atlas/circuits/maf': STATES })
  const joints = () => visit.page.findAll('li').map((joint) => joint.text())

  it('show volts from joint to joint, each by what it is', async () => {
    visit = await circuit()
    expect(joints()).toEqual(['1.52 Vunit', '0.00 Vplug', '1.00 Vsensor'])
  })

  it('have a gap at the plug that is off, and a true minus', async () => {
    visit = await circuit()
    expect(visit.page.findAll('.gap')).toHaveLength(0)
    await button(visit.page, 'key on, plug off').trigger('click')
    expect(visit.page.findAll('.gap')).toHaveLength(1)
    expect(joints()[0]).toBe('−0.03 Vunit')
  })
})

describe('where the schools differ', () => {
  const CARD = {
    ...{
      id: 'c1',
      title: 'How long to soak',
      schools: ['An hour.', 'A night.'],
      physics: 'It cools by a time constant.',
    },
    ...{ setting: '', working: '', bench: false, runs: false, drawing: '', options: [] as object[] },
  }
  const row = (option: string, value: number | null, outside = false) => ({ channel: 'maf', option, value, outside })
  const ANSWERS: Answers = {
    'GET /api/atlas/schools/c1': {
      statistic: 'mean',
      rows: [row('an hour', 2.5), row('a night', 4.5, true), row('never', null)],
    },
  }
  const card = (more: object, who = PEOPLE.trainer) =>
    visited(SchoolCard, { card: { ...CARD, ...more } }, ANSWERS, { who, stubs: { ...STUBS, ExplorerPanel: true } })

  it('each says what it holds, beside the physics', async () => {
    visit = await card({})
    expect(visit.page.findAll('li').map((entry) => entry.text())).toEqual(['An hour.', 'A night.'])
    expect(visit.page.text()).toContain('It cools by a time constant.')
  })

  it('runs show what follows from each, computed on demand', async () => {
    visit = await card({ runs: true })
    expect(visit.asked).toEqual([])
    await button(visit.page, 'What changes the outcome').trigger('click')
    await quiet()
    expect(visit.page.findAll('thead th').map((head) => head.text())).toEqual(['mean', 'an hour', 'a night', 'never'])
    const cells = visit.page.findAll('tbody td.number').map((cell) => cell.text())
    expect(cells[0]).toBe('2.50 g/s')
    expect(cells[1]).toContain('outside its band')
    expect(cells[2]).toBe('–')
  })

  it('a drawing stands in the state that each means', async () => {
    const options = [
      { label: 'an hour', hands: { h: 1 } },
      { label: 'a night', hands: { h: 12 } },
    ]
    visit = await card({ drawing: 'soak', options })
    await button(visit.page, 'What changes the outcome').trigger('click')
    await button(visit.page, 'a night').trigger('click')
    expect(visit.page.getComponent({ name: 'ExplorerPanel' }).props('start')).toEqual({ h: 12 })
  })

  it('a setting of the school decides: a link for who may change it, words for who may not', async () => {
    visit = await card({ setting: 'soak_h' })
    expect(visit.page.get('a').attributes('href')).toBe('/school/rules')
    visit.page.unmount()
    visit = await card({ setting: 'soak_h' }, PEOPLE.learner)
    expect(visit.page.find('a').exists()).toBe(false)
    expect(visit.page.text()).toContain('Your school’s setting decides this; it stands under School, Rules.')
  })

  it('a bench is offered only to who has one', async () => {
    visit = await card({ bench: true }, PEOPLE.learner)
    expect(visit.page.find('a').exists()).toBe(false)
    visit.page.unmount()
    visit = await card({ bench: true })
    expect(visit.page.get('a').attributes('href')).toBe('/bench')
  })
})

describe('the glossary', () => {
  const glossary = (address: string) => visited(GlossaryPage, {}, LISTS, { address })
  const terms = () => visit.page.findAll('dt').map((term) => term.text())

  it('is in the order of the alphabet, and finds a term by any of its names', async () => {
    visit = await glossary('/atlas/words')
    expect(terms()).toEqual(['ECT engine coolant temperature', 'MAF mass airflow'])
    await visit.page.get('input').setValue('Air Mass')
    expect(terms()).toEqual(['MAF mass airflow'])
    expect(visit.page.text()).toContain('Also called air mass meter.')
    expect(visit.page.get('dd a').attributes('href')).toBe('/atlas/meter')
    await visit.page.get('input').setValue('xyz')
    expect(visit.page.text()).toContain('No term has this word.')
  })

  it('opens at the term of its address', async () => {
    visit = await glossary('/atlas/words?term=ECT')
    expect(terms()).toEqual(['ECT engine coolant temperature'])
  })
})
