// @vitest-environment happy-dom
import { defineComponent, h, ref, type Ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { useThread, type Bench } from '@/features/bench/live/thread'
import { mounted } from '@/testing/mounted'

type Thread = ReturnType<typeof useThread>

const RIG = {
  sensors: [
    {
      id: 'maf',
      term: 'MAF',
      name: 'airflow meter',
      place: 'in the duct',
      family: 'airflow',
      channels: ['maf', 'maf_volts', 'maf_true'],
    },
  ],
}
const REACH = {
  plugs: [{ sensor: 'maf', circuit: 'maf_signal', wire: 'maf signal' }],
  way: {
    order: ['duct', 'maf'],
    parts: [
      {
        id: 'duct',
        label: 'Duct',
        name: 'air duct',
        channels: ['maf_true'],
        hoses: ['air duct'],
        actuators: [],
        parts: [],
      },
    ],
    branches: [{ id: 'purge', label: 'Purge', name: 'purge line', at: 'maf', hoses: ['purge hose'] }],
  },
}

/** The thread of a bench on which hands have done something, and marks stand at some signals. */
function thread(done: object = {}, marked: object = {}): Thread {
  const untouched = { closed: [], held: {}, parts: [], unplugged: [] }
  const bench = {
    rig: ref(RIG),
    reach: ref(REACH),
    vehicle: ref({ ...untouched, ...done }),
    now: ref({ values: { maf: 2.104, maf_true: 2.5 } }),
    marks: ref({ parted: [], substitutes: [], ...marked }),
  } as Record<keyof Bench, Ref<unknown>> as Bench
  let found: Thread | undefined
  const page = mounted(defineComponent({ setup: () => ((found = useThread(bench)), () => h('i')) }), {})
  const { knots, branches, parts } = found!
  const now = { knots: ref(knots.value), branches: ref(branches.value), parts: ref(parts.value) }
  page.unmount()
  return now as unknown as Thread
}

describe('the thread of a running engine', () => {
  it('shows parts and sensors in the order in which air passes, each with its value', () => {
    const { knots } = thread()
    expect(knots.value.map((knot) => [knot.label, knot.value, knot.unit])).toEqual([
      ['Duct', '2.50', 'g/s'],
      ['MAF', '2.10', 'g/s'],
    ])
    expect(knots.value.some((knot) => knot.alarm)).toBe(false)
  })

  it('says of a display that has parted from the truth what is true', () => {
    const meter = thread({}, { parted: ['maf'] }).knots.value[1]
    expect(meter?.note).toBe('truth 2.50 g/s')
    expect(meter?.alarm).toBe(true)
  })

  it('says of a value that the control unit makes up that it is a substitute, and that the plug is off', () => {
    const meter = thread({ unplugged: ['maf_signal'] }, { substitutes: ['maf'] }).knots.value[1]
    expect(meter?.note).toBe('plug off, substitute')
  })

  it('shows where hands are: a clamped duct, a clamped branch', () => {
    const { knots, branches } = thread({ closed: ['air duct', 'purge hose'] })
    expect(knots.value[0]?.note).toBe('by hand')
    expect(branches.value[0]?.note).toBe('clamped')
    expect(thread().branches.value[0]?.note).toBe('')
  })
})
