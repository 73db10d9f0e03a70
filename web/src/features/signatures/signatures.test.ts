// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import SignaturesPage from '@/features/signatures/SignaturesPage.vue'
import { leaveAfterEach, stopClocks } from '@/testing/hooks'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { button, visited, type Visit } from '@/testing/visited'

let visit: Visit
stopClocks()
leaveAfterEach(() => visit.page)
async function rest(ms = 400) {
  await vi.advanceTimersByTimeAsync(ms)
  await quiet()
}

const departure = (condition: string, deviations: number) => ({
  ...{
    channel: 'maf',
    condition,
    stat: 'mean',
    quantity: 'mass_flow',
    value: 2.5,
    low: 1.8,
    high: 2.2,
    layer: 'scan',
    deviations,
  },
})
const SIGNATURE = {
  departures: [departure('hot_idle', 9.4), departure('wot_pull', -4)],
  noticed: [
    { label: 'It idles high', state_label: 'warm idle' },
    { label: 'It idles high', state_label: 'cold idle' },
  ],
  codes: ['P0171'],
}
const ALIKE = {
  smallest: [
    { condition: 'hot_idle', channel: 'maf', share: 0.2, words: 'Air leak (area 0.8 mm²)', size: '0.8 mm²' },
    { condition: 'wot_pull', channel: '', share: null, words: '', size: '' },
  ],
  alike: [{ candidate: 'meter', label: 'A meter that reads too little', separated_by: 'Smoke', minutes: 19.6 }],
}
const LEAK = { kind: 'leak', params: { area_mm2: 4 }, onset: { mode: 'permanent' } }
const column = (label: string, value: number | null, fault: object | null = null) => ({
  ...{ label, words: `${label} at its middle size`, fault },
  cells: [
    { condition: 'hot_idle', channel: 'maf', quantity: 'mass_flow', value, outside: value !== null && value > 3 },
  ],
})
const ANSWERS: Answers = {
  'POST /api/signatures': SIGNATURE,
  'POST /api/signatures/alike': ALIKE,
  'GET /api/rigs/R1/matrix': {
    conditions: ['hot_idle', 'wot_pull'],
    rows: [{ candidate: 'leak', words: 'Air leak, 4 mm²', fault: LEAK, cells: { hot_idle: 'maf+' } }],
  },
  'GET /api/rigs/R1/steps': ({ query }: Asked) => ({
    conditions: ['hot_idle'],
    columns: [column('Leak', 2 + Number(query.size), LEAK), column('sound', null)],
    ...{ places: [], place_conditions: [] },
  }),
  'GET /api/symptoms': {
    symptoms: [
      { id: 'high_idle', label: 'It idles high', states: ['warm'] },
      { id: 'rough_idle', label: 'It idles roughly', states: ['warm', 'cold'] },
    ],
    states: [
      { id: 'warm', label: 'warm' },
      { id: 'cold', label: 'cold' },
    ],
  },
  'POST /api/symptoms/causes': [
    { candidate: 'leak:', label: 'Air leak', group: 'air_path', size: '4 mm²' },
    { candidate: 'wrong:', label: 'Wrong part', group: 'wrong_part', size: '' },
  ],
}
async function signatures(address: string, answers: Answers = {}) {
  visit = await visited(SignaturesPage, {}, { ...ANSWERS, ...answers }, { address, stubs: { FaultEditor: true } })
  await rest()
}

describe('one fault, good against faulty', () => {
  const asked = () => visit.calls('POST /api/signatures').map((one) => (one.body as { faults: (typeof LEAK)[] }).faults)
  const editor = () => visit.page.findAllComponents({ name: 'FaultEditor' })

  it('shows what leaves its band, with the notices of the driver and the codes', async () => {
    await signatures('/signatures')
    const facts = visit.page.get('.facts').text()
    expect(facts).toContain('It idles high (warm idle, cold idle)')
    expect(facts).toContain('P0171')
    const row = visit.page.get('tbody tr').text()
    expect(row).toContain('Mass airflow')
    expect(row).toContain('Hot idle')
    expect(row).toContain('2.50')
    expect(row).toContain('also in')
  })

  it('says from which size on it can be told, where not at all, and what looks alike', async () => {
    await signatures('/signatures')
    const sizes = visit.page.get('aside')
    expect(sizes.get('li').text()).toBe('Hot idle: 0.8 mm² by Mass airflow')
    expect(sizes.text()).toContain('Not even at its largest: Full load.')
    const alike = visit.page.findAll('table').at(-1)!.text()
    expect(alike).toContain('A meter that reads too little')
    expect(alike).toContain('20 min')
  })

  it('opens with the fault and the size of its address, or with a usual one where that cannot be read', async () => {
    await signatures(`/signatures?fault=${encodeURIComponent(JSON.stringify(LEAK))}`)
    expect(asked().at(-1)).toEqual([LEAK])
    visit.page.unmount()
    await signatures('/signatures?fault={"kind":')
    expect(asked().at(-1)).toHaveLength(1)
    visit.page.unmount()
    await signatures('/signatures?kind=wrong')
    expect(asked().at(-1)![0]!.kind).toBe('wrong')
  })

  it('is computed when the hand rests, and two of them at once without what is of one alone', async () => {
    await signatures('/signatures')
    const before = asked().length
    for (const area_mm2 of [1, 2, 3]) {
      editor()[0]!.vm.$emit('change', { ...LEAK, params: { area_mm2 } })
      await vi.advanceTimersByTimeAsync(100)
    }
    await rest()
    expect(asked().slice(before)).toEqual([[{ ...LEAK, params: { area_mm2: 3 } }]])
    await button(visit.page, 'Add a second fault').trigger('click')
    await rest()
    expect(asked().at(-1)).toHaveLength(2)
    expect(visit.page.text()).not.toContain('From which size on')
    expect(visit.page.findAll('button').some((entry) => entry.text() === 'Add a second fault')).toBe(false)
    editor()[1]!.vm.$emit('remove')
    await rest()
    editor()[0]!.vm.$emit('remove')
    await rest()
    expect(editor()).toHaveLength(1)
  })

  it('says in a sentence what this engine cannot have', async () => {
    await signatures('/signatures', { 'POST /api/signatures': refusal(422, 'fault', 'this engine has no meter') })
    expect(visit.page.get('.main [role=alert]').text()).toBe('This engine has no meter')
  })
})

describe('faults against conditions', () => {
  it('names the value that lies farthest off, and opens the fault at that size', async () => {
    await signatures('/signatures?tab=matrix')
    const cells = visit.page.findAll('tbody td').map((cell) => cell.text())
    expect(cells).toEqual(['Mass airflow +', ''])
    await button(visit.page, 'Air leak, 4 mm²').trigger('click')
    await quiet()
    expect(visit.router.currentRoute.value.query).toEqual({ rig: 'R1', tab: 'fault', fault: JSON.stringify(LEAK) })
  })

  it('offers the groups of faults that the engine can have', async () => {
    await signatures('/signatures?tab=matrix')
    const groups = visit.page.findAll('select option').map((option) => option.attributes('value'))
    expect(groups).toEqual(['air_path', 'wrong_part'])
    await visit.page.get('select').setValue('wrong_part')
    await quiet()
    expect(visit.calls('GET /api/rigs/R1/matrix').map((one) => one.query.group)).toEqual(['air_path', 'wrong_part'])
  })
})

describe('trims from idle to load', () => {
  const cells = () => visit.page.findAll('tbody td.number').map((cell) => cell.text())

  it('stand beside those of a sound engine; what is outside its band is said in words', async () => {
    await signatures('/signatures?tab=steps')
    expect(cells()).toEqual(['3.00 g/s', '–'])
    await button(visit.page, 'large').trigger('click')
    await quiet()
    expect(visit.calls('GET /api/rigs/R1/steps').map((one) => one.query.size)).toEqual(['1', '2'])
    expect(cells()[0]).toBe('4.00 g/soutside the band')
  })

  it('lead to the fault itself', async () => {
    await signatures('/signatures?tab=steps')
    const links = visit.page.findAll('thead a')
    expect(links).toHaveLength(1)
    expect(decodeURIComponent(links[0]!.attributes('href')!)).toContain('"area_mm2":4')
  })

  it('are none on an engine without mixture control', async () => {
    const none = { conditions: [], columns: [], places: [], place_conditions: [] }
    await signatures('/signatures?tab=steps', { 'GET /api/rigs/R1/steps': none })
    expect(visit.page.text()).toContain('so it has no trims')
  })
})

describe('symptoms and their causes', () => {
  const asked = () => visit.calls('POST /api/symptoms/causes').map((one) => (one.body as { told: string[] }).told)
  const selects = () => visit.page.findAll<HTMLSelectElement>('.told select')

  it('are asked for all that the driver tells, each in the state in which it is noticed', async () => {
    await signatures('/signatures?tab=symptoms')
    expect(asked()).toEqual([['high_idle']])
    await button(visit.page, 'Add a symptom').trigger('click')
    await selects()[3]!.setValue('cold')
    await quiet()
    expect(asked().at(-1)).toEqual(['high_idle', 'rough_idle:cold'])
  })

  it('offer only states in which a symptom can be noticed, and forget one that another symptom has not', async () => {
    await signatures('/signatures?tab=symptoms')
    expect(
      selects()[1]!
        .findAll('option')
        .map((option) => option.text()),
    ).toEqual(['in any state', 'warm'])
    await selects()[1]!.setValue('warm')
    await selects()[0]!.setValue('rough_idle')
    await quiet()
    expect(asked().at(-1)).toEqual(['rough_idle'])
  })

  it('are told by group, without ranking, and how many they are', async () => {
    await signatures('/signatures?tab=symptoms')
    expect(visit.page.text()).toContain('Possible causes: 2')
    expect(visit.page.findAll('h3').map((head) => head.text())).toEqual(['way of the air', 'wrong parts'])
    expect(visit.page.get('li').text()).toContain('4 mm²')
  })

  it('are none for what no single fault would cause', async () => {
    await signatures('/signatures?tab=symptoms', { 'POST /api/symptoms/causes': [] })
    expect(visit.page.text()).toContain('No single fault of this engine causes all of that.')
  })

  it('keep at least one symptom', async () => {
    await signatures('/signatures?tab=symptoms')
    expect(visit.page.findAll('.told button')).toHaveLength(0)
    await button(visit.page, 'Add a symptom').trigger('click')
    await visit.page.findAll('.told button')[0]!.trigger('click')
    await quiet()
    expect(asked().at(-1)).toEqual(['rough_idle'])
  })
})
