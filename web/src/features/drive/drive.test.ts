// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import DrivePage from '@/features/drive/DrivePage.vue'
import { leaveAfterEach, stopClocks } from '@/testing/hooks'
import { CATALOGUE } from '@/testing/mounted'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { visited, type Visit } from '@/testing/visited'

const sensor = (id: string, channel: string) => ({
  ...{ id, term: id.toUpperCase(), name: `Sensor ${id}`, place: 'intake', family: 'airflow', channels: [channel] },
})
const LEAK = CATALOGUE.faults[0]!
const KIND = {
  ...LEAK,
  id: 'manifold_vacuum_leak',
  proof: 'Smoke leaves there.',
  repair: 'A new hose.',
  cautions: ['Hot parts.'],
}
const channel = (id: string) => ({ ...CATALOGUE.channels[0]!, id, label: `value ${id}` })
const CAR = {
  ...CATALOGUE,
  rigs: [
    {
      ...CATALOGUE.rigs[0]!,
      channels: ['rpm', 'maf', 'total_trim', 'ho2s_b1s1_v', 'iat'],
      sensors: [sensor('maf', 'maf'), sensor('iat', 'iat')],
      faults: { manifold_vacuum_leak: {} },
    },
    {
      ...CATALOGUE.rigs[0]!,
      id: 'R4',
      name: 'Ferry shuttle',
      channels: ['rpm', 'map', 'fuel_mass'],
      sensors: [],
      faults: {},
    },
  ],
  scripts: [
    { id: 'workshop_day', name: 'A day in the workshop', conditions: ['hot_idle', 'wot_pull'] },
    { id: 'road', name: 'On the road', conditions: ['wot_pull'] },
  ],
  channels: ['rpm', 'maf', 'total_trim', 'ho2s_b1s1_v', 'iat', 'map', 'fuel_mass'].map(channel),
  faults: [...CATALOGUE.faults, KIND],
}

/** A run that shows what was asked for. */
const RUN = {
  windows: [
    { condition: 'hot_idle', label: 'Hot idle', start: 0, end: 10 },
    { condition: 'wot_pull', label: 'Full load', start: 10, end: 20 },
  ],
  readings: [
    { channel: 'maf', condition: 'hot_idle', value: 2.5, verdict: 'faulty' },
    { channel: 'maf', condition: 'wot_pull', value: 40, verdict: 'good' },
  ],
  codes: [{ id: 'P0171', meaning: 'mixture too lean' }],
  sound_alarms: 0.07,
  lanes: {},
}

let visit: Visit
stopClocks()
leaveAfterEach(() => visit.page)

/** Lanes are drawn elsewhere; here it counts what they are given, and where they are told to look. */
const focusOn = vi.fn()
const LaneStack = { name: 'LaneStack', props: ['lanes', 'channels'], methods: { focusOn }, render: () => null }
const STUBS = { LaneStack, ThreadLine: true, FaultList: true }
async function drive(answers: Answers = { 'POST /api/bench/run': RUN }) {
  visit = await visited(DrivePage, {}, answers, { stubs: STUBS, catalogue: CAR })
  await rest()
}
async function rest(ms = 200) {
  await vi.advanceTimersByTimeAsync(ms)
  await quiet()
}
interface Wish {
  rig: string
  script: string
  channels: string[]
  faults: { kind: string }[]
  good: boolean
}
const runs = () => visit.calls('POST /api/bench/run').map((one: Asked) => one.body as Wish)
const knots = () => visit.page.getComponent({ name: 'ThreadLine' }).props('knots') as Record<string, unknown>[]
const lanes = () => visit.page.getComponent({ name: 'LaneStack' })
const choose = async (name: string, value: string) => {
  visit.page.getComponent({ name }).vm.$emit('choose', value)
  await rest()
}

describe('a drive', () => {
  it('is run once for the lanes and for the knots of the thread', async () => {
    await drive()
    expect(runs()).toHaveLength(1)
    expect(runs()[0]!.channels).toEqual(['rpm', 'maf', 'total_trim', 'ho2s_b1s1_v', 'iat'])
    expect(runs()[0]!.faults.map((fault) => fault.kind)).toEqual(['manifold_vacuum_leak'])
  })

  it('is not asked for before it is known which sensors the engine has', async () => {
    const answers = { 'POST /api/bench/run': RUN }
    visit = await visited(DrivePage, {}, answers, { stubs: STUBS, catalogue: { ...CAR, rigs: [] } })
    await rest()
    expect(runs()).toEqual([])
  })

  it('shows on the thread what each sensor reads in the chosen condition, with its verdict', async () => {
    await drive()
    expect(knots()[0]).toMatchObject({ label: 'MAF', value: '2.50', unit: 'g/s', verdict: 'faulty' })
    expect(knots()[1]).toMatchObject({ label: 'IAT', verdict: undefined })
    await visit.page.findAll('.way-head select')[1]!.setValue('wot_pull')
    await quiet()
    expect(knots()[0]).toMatchObject({ value: '40.00', verdict: 'good' })
    expect(focusOn).toHaveBeenLastCalledWith('wot_pull')
  })

  it('tells codes, what proves the fault, its repair and the cautions', async () => {
    await drive()
    const aside = visit.page.get('aside').text()
    expect(aside).toContain('P0171 mixture too lean')
    expect(aside).toContain('Smoke leaves there.')
    expect(aside).toContain('A new hose.')
    expect(aside).toContain('Hot parts.')
    expect(visit.page.text()).toContain('at most 7 of 100 sound engines show any alarm')
  })

  it('draws the lane of a sensor that is picked, once', async () => {
    await drive()
    visit.page.getComponent({ name: 'ThreadLine' }).vm.$emit('pick', 'iat')
    visit.page.getComponent({ name: 'ThreadLine' }).vm.$emit('pick', 'maf')
    await quiet()
    expect(lanes().props('channels')).toEqual(['rpm', 'maf', 'total_trim', 'ho2s_b1s1_v', 'iat'])
    lanes().vm.$emit('remove', 'rpm')
    lanes().vm.$emit('swap', 'maf', 'rpm')
    await quiet()
    expect(lanes().props('channels')).toEqual(['rpm', 'total_trim', 'ho2s_b1s1_v', 'iat'])
  })

  it('asks once when several things change in one go', async () => {
    await drive()
    const list = visit.page.getComponent({ name: 'FaultList' })
    list.vm.$emit('change', [])
    await vi.advanceTimersByTimeAsync(30)
    list.vm.$emit('change', [{ kind: 'leak', params: { area_mm2: 4 }, onset: { mode: 'permanent' } }])
    await rest()
    expect(runs().map((wish) => wish.faults.map((fault) => fault.kind))).toEqual([['manifold_vacuum_leak'], ['leak']])
  })

  it('asks for the lanes of the sound engine once, and draws them beside every fault', async () => {
    const answer = ({ body }: Asked) => {
      const { channels, good, faults } = body as Wish
      const lane = { run: [faults.length], good: good ? [9] : null }
      return { ...RUN, lanes: Object.fromEntries(channels.map((name) => [name, lane])) }
    }
    const drawn = () => (lanes().props('lanes') as { lanes: Record<string, unknown> }).lanes
    await drive({ 'POST /api/bench/run': answer })
    visit.page.getComponent({ name: 'FaultList' }).vm.$emit('change', [])
    await rest()
    expect(drawn().maf).toEqual({ run: [0], good: [9] })
    visit.page.getComponent({ name: 'ChannelSelect' }).vm.$emit('choose', 'map')
    await rest()
    expect(drawn().map).toEqual({ run: [0], good: [9] })
    await choose('EngineSelect', 'R4')
    expect(drawn().fuel_mass).toEqual({ run: [0], good: [9] })
    expect(runs().map((wish) => wish.good)).toEqual([true, false, true, true])
  })

  it('of another engine has the lanes that it has, or what it measures instead, and no fault that it cannot have', async () => {
    await drive()
    await choose('EngineSelect', 'R4')
    const wish = runs().at(-1)!
    expect(wish.rig).toBe('R4')
    expect(wish.channels).toEqual(['rpm', 'map', 'fuel_mass'])
    expect(wish.faults).toEqual([])
  })

  it('of another script is shown in a condition that it passes through', async () => {
    await drive()
    await visit.page.findAll('.way-head select')[0]!.setValue('road')
    await rest()
    expect(runs().at(-1)!.script).toBe('road')
    expect(knots()[0]).toMatchObject({ value: '40.00' })
  })

  it('never stands under the name of another engine while that one is computed', async () => {
    let wait: (value: object) => void = () => {}
    const answer = ({ body }: Asked) =>
      (body as Wish).rig === 'R1' ? RUN : new Promise((resolve) => (wait = resolve)).then(() => RUN)
    await drive({ 'POST /api/bench/run': answer })
    await choose('EngineSelect', 'R4')
    expect(visit.page.findComponent({ name: 'LaneStack' }).exists()).toBe(false)
    // Nor are there no codes as long as nobody knows; what stands below the lanes keeps its place.
    expect(visit.page.get('.codes').text()).toContain('Loading')
    expect(visit.page.get('.main > p').attributes('style')).toContain('min-height: 416px')
    wait({})
    await rest()
    expect(visit.page.findComponent({ name: 'LaneStack' }).exists()).toBe(true)
  })

  it('that is refused says why and keeps the faults', async () => {
    await drive({ 'POST /api/bench/run': refusal(422, 'fault', 'this leak is larger than the throttle') })
    expect(visit.page.get('[role=alert]').text()).toBe('This leak is larger than the throttle')
    expect(visit.page.getComponent({ name: 'FaultList' }).props('faults')).toHaveLength(1)
    expect(visit.page.text()).not.toContain('Loading')
  })
})
