// @vitest-environment happy-dom
import { flushPromises, type VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Observation, Use } from '@/features/bench/live/line'
import InstrumentSlip from '@/features/bench/slips/InstrumentSlip.vue'
import { mounted } from '@/testing/mounted'

const MULTIMETER = {
  id: 'multimeter',
  label: 'Multimeter',
  purpose: '',
  minutes: 3,
  cautions: ['Leads away from belts.'],
  conditions: [],
  options: [{ id: 'jack', label: 'jack', default: 'V', choices: ['V', 'A'], low: 0, high: 0, unit: '' }],
  places: ['battery.minus', 'map.signal', 'ect.signal'],
  several: '/',
  words: { 'map.signal': 'MAP plug: signal' } as Record<string, string>,
}
const SCAN = {
  ...MULTIMETER,
  id: 'scan_tool',
  label: 'Scan tool',
  places: ['maf', 'maf_true'],
  several: ',',
  words: {},
  options: [],
}
const PUMP = {
  ...MULTIMETER,
  id: 'hand_pump',
  label: 'Hand pump',
  conditions: ['koeo'],
  options: [{ id: 'kPa', label: 'vacuum', default: '0', choices: [], low: 0, high: 100, unit: 'kPa' }],
  places: ['EGR valve', 'MAP sensor'],
  several: '',
  words: {},
}
const FLOW = {
  id: 'maf',
  label: 'maf',
  value: 2.5,
  quantity: 'mass_flow',
  unit: 'g/s',
  text: '',
  step: 0.01,
  sealed: 'xyz',
}

function seen(use: Use, more: Partial<Observation> = {}): Observation {
  return {
    ...{ instrument: use.instrument, place: use.place, condition: use.condition, minutes: 3, refused: '' },
    ...{ shown: [FLOW], traces: [], cautions: [], notes: [], changes: [] },
    ...more,
  }
}

let page: VueWrapper
afterEach(() => page.unmount())

function slip(instrument: object, more: object = {}, answer: (use: Use) => Observation = seen) {
  const measure = vi.fn((use: Use) => Promise.resolve(answer(use)))
  const props = {
    ...{ bench: 7, measure, instrument, condition: 'hot_idle', changes: 0, substitutes: [], minding: [] },
    ...{ air: { celsius: 20, kpa: 95, stood_h: 12 } },
    ...more,
  }
  page = mounted(InstrumentSlip, props, { ElSlider: true })
  return measure
}

async function read(): Promise<void> {
  await page.find('button.read').trigger('click')
  await flushPromises()
}

describe('an instrument in use', () => {
  it('reads on the engine as it is now, with its settings, and shows what it has seen', async () => {
    const measure = slip(SCAN)
    await read()
    expect(measure).toHaveBeenCalledWith(expect.objectContaining({ place: 'maf', condition: 'hot_idle', options: {} }))
    expect(page.find('dl').text()).toContain('Mass airflow')
    expect(page.find('dd').text()).toBe('2.50 g/s')
  })

  it('is put where somebody has pointed, if it fits there', async () => {
    const measure = slip(PUMP, { place: 'MAP sensor' })
    await read()
    expect(measure.mock.calls[0]?.[0].place).toBe('MAP sensor')
    page.unmount()
    const other = slip(PUMP, { place: 'cylinder 3' })
    await read()
    expect(other.mock.calls[0]?.[0].place).toBe('EGR valve')
  })

  it('offers the states in which it may be used, and no other, whatever the engine does now', async () => {
    const measure = slip(PUMP)
    const states = page.findAll('.setting select').at(-1)!
    expect(states.findAll('option').map((option) => option.attributes('value'))).toEqual(['koeo'])
    await read()
    expect(measure.mock.calls[0]?.[0].condition).toBe('koeo')
  })

  it('has its leads at the signal in question and at battery minus, and reads where they are put', async () => {
    const measure = slip(MULTIMETER, { wire: 'ect' })
    await read()
    expect(measure.mock.calls[0]?.[0].place).toBe('ect.signal/battery.minus')
    await page.setProps({ tips: { red: 'map.signal' } })
    await flushPromises()
    expect(measure.mock.lastCall?.[0].place).toBe('map.signal/battery.minus')
  })

  it('reads each time with other noise', async () => {
    const measure = slip(SCAN)
    await read()
    await read()
    expect(measure.mock.calls.map(([use]) => use.seed)).toEqual([0, 1])
  })

  it('says that a reading is from before hands have changed the vehicle', async () => {
    slip(SCAN)
    await read()
    expect(page.find('dl').classes()).not.toContain('old')
    await page.setProps({ changes: 1 })
    expect(page.find('dl').classes()).toContain('old')
    await read()
    expect(page.find('dl').classes()).not.toContain('old')
  })

  it('says why it was not used, and its cautions before and after', async () => {
    slip(MULTIMETER, { minding: ['Hands off the fan.'] }, (use) =>
      seen(use, { shown: [], refused: 'The fuse of the ammeter is blown.', cautions: ['Hot exhaust.'] }),
    )
    expect(page.text()).toContain('Leads away from belts.')
    expect(page.text()).toContain('Hands off the fan.')
    await read()
    expect(page.find('.problem').text()).toBe('The fuse of the ammeter is blown.')
    expect(page.text()).toContain('Hot exhaust.')
  })

  it('says in a sentence that the bench did not answer', async () => {
    slip(SCAN, { measure: () => Promise.reject(new Error('This bench was closed.')) })
    await read()
    expect(page.find('[role=alert]').text()).toMatch(/\.$/)
  })

  it('covers names and units on request: which value is which is found at the vehicle', async () => {
    slip(SCAN, {}, (use) => seen(use, { shown: use.place.split(',').map((label) => ({ ...FLOW, label })) }))
    await page.find('button.more').trigger('click')
    await read()
    expect(page.find('dl').text()).toContain('Mass airflow')
    await page.find('.cover input').setValue(true)
    expect(page.find('dl').text()).not.toContain('Mass airflow')
    expect(page.find('dl').text()).not.toContain('g/s')
    expect(page.findAll('dt').map((name) => name.text().slice(-1))).toEqual(['A', 'B'])
  })
})

describe('a reading that is kept', () => {
  it('keeps value, place, state, settings and air, so that it can be judged beside sound engines', async () => {
    slip(MULTIMETER, { wire: 'map' })
    await read()
    await page.findAll('.acts button').at(-1)!.trigger('click')
    const [[kept]] = page.emitted('keep') as [[Record<string, unknown>]]
    expect(kept).toMatchObject({
      label: 'Mass airflow',
      text: '2.50 g/s',
      where: 'Multimeter, MAP plug: signal / battery.minus, Hot idle',
      reading: {
        ...{
          instrument: 'multimeter',
          place: 'map.signal/battery.minus',
          condition: 'hot_idle',
          options: { jack: 'V' },
        },
        ...{
          what: 'maf',
          label: 'maf',
          value: 2.5,
          substitute: false,
          celsius: 20,
          kpa: 95,
          stood_h: 12,
          sealed: 'xyz',
        },
      },
    })
  })

  it('is marked where the control unit makes up what it displays', async () => {
    const both = (use: Use) => seen(use, { shown: use.place.split(',').map((id) => ({ ...FLOW, id })) })
    slip(SCAN, { substitutes: ['maf_true'] }, both)
    await page.find('button.more').trigger('click')
    await read()
    await page.findAll('.acts button').at(-1)!.trigger('click')
    const kept = page.emitted('keep')!.map(([one]) => (one as { reading: { substitute: boolean } }).reading)
    expect(kept.map((reading) => reading.substitute)).toEqual([false, true])
  })
})
