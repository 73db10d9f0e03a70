// @vitest-environment happy-dom
import type { VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import CodesPart from '@/features/bench/live/CodesPart.vue'
import HandsPanel from '@/features/bench/live/HandsPanel.vue'
import type { Doing, Vehicle } from '@/features/bench/live/line'
import PlaceCard from '@/features/bench/live/PlaceCard.vue'
import { session } from '@/api/session'
import { mounted } from '@/testing/mounted'
import { button, PEOPLE } from '@/testing/visited'

const VEHICLE: Vehicle = {
  ...{ key: 'on', foot: 'pedal', target: 0, roller: null, time_lapse: 1, faults: [], unplugged: [], closed: [] },
  ...{ parts: [], held: {}, consumers: { lights: false, air_conditioning: true }, charger: false, stood_h: 0 },
  weather: { temp_C: 20, baro_kPa: 101.3 },
}

let page: VueWrapper
beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] })
})
afterEach(() => {
  page.unmount()
  vi.useRealTimers()
  session.value = undefined
})
const acts = () => (page.emitted('act') ?? []).map(([doing]) => doing as Doing)

describe('hands on a running engine', () => {
  function hands(vehicle: Partial<Vehicle> = {}, more: object = {}) {
    page = mounted(HandsPanel, { vehicle: { ...VEHICLE, ...vehicle }, rpm: 900, working: '', ...more })
  }
  const slider = (label: string) =>
    page.findAllComponents({ name: 'SliderRow' }).find((entry) => entry.props('label') === label)!
  const pressed = (words: string) => button(page, words).attributes('aria-pressed')

  it('turn the key, snap the throttle, hold a speed and let it go', async () => {
    hands()
    for (const words of ['crank', 'Snap throttle', '2500']) await button(page, words).trigger('click')
    await button(page, 'free').trigger('click')
    expect(acts()).toEqual([
      { do: 'turn_key', to: 'start' },
      { do: 'snap' },
      { do: 'hold_speed', rpm: 2500 },
      { do: 'move_pedal', to: 0 },
    ])
  })

  it('send a dragged pedal ten times a second at most, and always where it came to rest', async () => {
    hands()
    await vi.advanceTimersByTimeAsync(200)
    for (let percent = 1; percent <= 40; percent += 1) {
      slider('Pedal').vm.$emit('slide', percent)
      await vi.advanceTimersByTimeAsync(10)
    }
    await vi.advanceTimersByTimeAsync(200)
    const sent = acts()
    expect(sent.length).toBeLessThanOrEqual(6)
    expect(sent.at(-1)).toEqual({ do: 'move_pedal', to: 0.4, seconds: 0.1 })
  })

  it('see the pedal where it is, and a lever on a governed engine', async () => {
    hands({ target: 0.3 }, { rig: { governed: true } })
    expect(slider('Lever').props('value')).toBe(30)
    await page.setProps({ vehicle: { ...VEHICLE, foot: 'snap' } })
    expect(slider('Lever').props('value')).toBe(0)
  })

  it('know which speed is held', () => {
    hands({ foot: 'speed', target: (2500 / 30) * Math.PI })
    expect(pressed('2500')).toBe('true')
    expect(pressed('free')).toBe('false')
  })

  it('bring the vehicle to the rollers at a speed that it can take, with the load of a cruise', async () => {
    hands()
    expect(page.text()).not.toContain('Full throttle')
    await button(page, 'on the rollers').trigger('click')
    expect(acts()).toEqual([
      { do: 'drive', roller: [900, 1800], gear: 'road', seconds: 3 },
      { do: 'hold_load', share: 'cruise' },
    ])
  })

  it('change speed and torque on the rollers from where they are, and leave them again', async () => {
    hands({ roller: { speed: 2200, ratio: 1 }, foot: 'load', target: 0.25 })
    slider('Speed').vm.$emit('slide', 3000)
    slider('Torque').vm.$emit('slide', 60)
    await button(page, 'neutral').trigger('click')
    expect(acts()).toEqual([
      { do: 'drive', roller: [2200, 3000], gear: 'road', seconds: 3 },
      { do: 'hold_load', share: 0.6 },
      { do: 'neutral' },
    ])
  })

  it('switch one consumer and leave the other', async () => {
    hands()
    expect(pressed('Air con')).toBe('true')
    await button(page, 'Lights').trigger('click')
    await button(page, 'Charger').trigger('click')
    expect(acts()).toEqual([
      { do: 'switch_consumers', lights: true, air_conditioning: true },
      { do: 'connect_charger', on: true },
    ])
  })

  it('choose a weather whole, or one thing of it', async () => {
    hands()
    expect(pressed('school')).toBe('true')
    await button(page, 'mountain').trigger('click')
    slider('Air').vm.$emit('slide', -5)
    expect(acts()).toEqual([
      { do: 'surround', weather: { temp_C: 10, baro_kPa: 79.5 } },
      { do: 'surround', weather: { temp_C: -5, baro_kPa: 101.3 } },
    ])
  })

  it('let an engine stand only with the key off, and say so', async () => {
    hands()
    expect(button(page, 'Stand a night').attributes('disabled')).toBeDefined()
    expect(page.text()).toContain('need the key off')
    await page.setProps({ vehicle: { ...VEHICLE, key: 'off' } })
    await button(page, 'Stand a night').trigger('click')
    expect(acts()).toEqual([{ do: 'stand', hours: 12 }])
    await page.setProps({ working: 'stand' })
    expect(button(page, 'Stand 1 h').attributes('disabled')).toBeDefined()
    expect(button(page, 'Let memory settle').attributes('disabled')).toBeDefined()
  })
})

describe('what the control unit has stored', () => {
  const CODES = {
    lamp: true,
    codes: [{ code: 'P0171', status: 'pending', meaning: 'mixture too lean', freeze_frame: { maf: 2.5 } }],
    readiness: { catalyst: 'incomplete' },
  }

  it('is a code with its status and meaning, and on request the moment in which it came', async () => {
    session.value = { ...PEOPLE.trainer, units: 'imperial' }
    page = mounted(CodesPart, { codes: CODES, minding: ['Readings of the moment are lost.'] })
    expect(page.text()).toContain('lamp on')
    expect(page.get('li').text()).toContain('P0171 pending')
    expect(page.find('dl').exists()).toBe(false)
    await page.get('li button').trigger('click')
    expect(page.get('dl').text()).toContain('Mass airflow')
    expect(page.get('dl').text()).toContain('lb/min')
    expect(page.text()).toContain('catalyst')
    expect(page.text()).toContain('not complete')
  })

  it('is cleared by hand, with what that costs; on somebody else’s engine it is not', async () => {
    page = mounted(CodesPart, { codes: CODES, minding: ['Readings of the moment are lost.'] })
    expect(page.text()).toContain('Readings of the moment are lost.')
    await button(page, 'Clear codes').trigger('click')
    expect(acts()).toEqual([{ do: 'clear_codes' }])
    page.unmount()
    page = mounted(CodesPart, { codes: CODES, minding: [], fixed: true })
    expect(page.text()).not.toContain('Clear codes')
  })

  it('is said to be nothing', () => {
    page = mounted(CodesPart, { codes: { lamp: false, codes: [], readiness: {} }, minding: [] })
    expect(page.text()).toContain('None stored.')
    expect(page.text()).toContain('lamp off')
  })
})

describe('a place on the thread', () => {
  const SENSOR = {
    ...{
      id: 'maf',
      term: 'MAF',
      name: 'airflow meter',
      place: 'intake',
      family: 'airflow',
      channels: ['maf', 'maf_v'],
    },
  }
  const REACH = {
    plugs: [
      { circuit: 'maf', wire: 'maf', plug: 'maf', sensor: 'maf', label: 'airflow meter' },
      { circuit: 'maf_heater', wire: 'maf_heater', plug: 'maf', sensor: 'maf', label: 'its heater' },
      { circuit: 'iat', wire: 'iat', plug: 'iat', sensor: 'iat', label: 'intake air' },
    ],
    parts: [{ name: 'airflow meter', sensor: 'maf' }],
    ...{ hoses: [], actuators: [] },
  }
  const words = vi.fn((of: string[]) => of.map((act) => `mind ${act}`))
  function place(more: object = {}) {
    const now = { frame: 0, condition: null, condition_label: null, values: {}, twin: {} }
    page = mounted(
      PlaceCard,
      {
        ...{ sensor: SENSOR, now, marks: { substitutes: [], parted: [] }, vehicle: VEHICLE, reach: REACH, lanes: [] },
        ...{ words, circuit: () => Promise.resolve([]) },
        ...more,
      },
      { PlaceFrame: { props: ['channels'], template: '<div><slot /></div>' }, CircuitLines: true },
    )
  }

  it('shows its layers from the engine outwards, and one circuit for signal and heater', () => {
    place()
    expect(page.getComponent({ name: 'CircuitLines' }).props('wire')).toBe('maf')
    expect(page.findAllComponents({ name: 'CircuitLines' })).toHaveLength(1)
    expect(page.text()).not.toContain('intake air')
  })

  it('has plugs to be pulled and a part to be exchanged, with the cautions of both', async () => {
    place()
    expect(words).toHaveBeenLastCalledWith(['do:pull_plug', 'part:airflow meter'])
    await button(page, 'Pull plug: airflow meter').trigger('click')
    await button(page, 'Fit a known-good part').trigger('click')
    expect(acts()).toEqual([
      { do: 'pull_plug', circuit: 'maf' },
      { do: 'fit_part', part: 'airflow meter' },
    ])
  })

  it('has everything put back in the same way', async () => {
    place({ vehicle: { ...VEHICLE, unplugged: ['maf'], parts: ['airflow meter'] } })
    await button(page, 'Plug on again: airflow meter').trigger('click')
    await button(page, 'Put the old part back').trigger('click')
    expect(acts()).toEqual([
      { do: 'put_plug', circuit: 'maf' },
      { do: 'put_part_back', part: 'airflow meter' },
    ])
  })

  it('is moved as long as it is held, by hand or by key', async () => {
    place()
    const wiggle = button(page, 'Hold and move: airflow meter')
    await wiggle.trigger('pointerdown')
    await wiggle.trigger('pointerup')
    await wiggle.trigger('keydown', { key: ' ' })
    await wiggle.trigger('keyup', { key: ' ' })
    const [on, off] = [
      { do: 'move_plug', place: 'maf' },
      { do: 'move_plug', place: null },
    ]
    expect(acts()).toEqual([on, off, on, off])
  })

  it('says that the display is made up by the control unit, or parts from the truth', async () => {
    place({ marks: { substitutes: ['maf'], parted: ['maf'] } })
    expect(page.findAll('.note')).toHaveLength(1)
    const madeUp = page.get('.note').text()
    await page.setProps({ marks: { substitutes: [], parted: ['maf'] } })
    expect(page.get('.note').text()).toContain('Display and truth part here.')
    expect(madeUp).not.toContain('Display and truth part here.')
  })
})
