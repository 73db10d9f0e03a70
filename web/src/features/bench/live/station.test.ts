// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import StationCard from '@/features/bench/live/StationCard.vue'
import CircuitLines from '@/features/bench/live/CircuitLines.vue'
import { mounted } from '@/testing/mounted'

const vehicle = { closed: [], held: {}, parts: [] }

describe('a part on the way of the air', () => {
  const station = {
    id: 'purge',
    label: 'purge',
    name: 'purge line',
    at: 'map',
    channels: ['maf', 'no_such'],
    hoses: ['purge hose'],
    parts: [],
    actuators: ['purge valve'],
  }
  const now = { frame: 1, condition: null, condition_label: null, values: { maf: 2.5 }, twin: { maf: 2 } }

  it('shows what is known there beside the sound twin', () => {
    const page = mounted(StationCard, { station, now, vehicle, lanes: [], words: () => [] })
    const row = page.find('tbody tr').text()
    expect(row).toContain('2.50')
    expect(row).toContain('2.00')
    expect(page.findAll('tbody tr')).toHaveLength(1)
    page.unmount()
  })

  it('offers what hands can do there, and nothing else', async () => {
    const page = mounted(StationCard, { station, now, vehicle, lanes: [], words: () => [] })
    expect(page.findAll('.buttons button').map((button) => button.text())).toEqual(['purge hose', 'purge valve'])
    await page.find('.buttons button').trigger('click')
    expect(page.emitted('act')).toEqual([[{ do: 'close_hose', hose: 'purge hose' }]])
    page.unmount()
  })
})

describe('the drawn circuit', () => {
  const wires = [
    {
      role: 'signal',
      joints: [
        { name: 'map.output', volts: 1.5, label: 'inside the sensor' },
        { name: 'map.signal', volts: 1.5, label: 'MAP plug: signal' },
        { name: 'unit.map', volts: 1.4, label: 'control unit: MAP' },
      ],
    },
  ]

  it('takes a lead at every joint that a tip can reach, first the red one', async () => {
    const page = mounted(CircuitLines, { wire: 'map', ask: async () => wires, isOff: false })
    await new Promise((done) => setTimeout(done))
    const joints = page.findAll('.joint')
    expect(joints).toHaveLength(2)
    expect(joints[1]?.attributes('aria-label')).toContain('control unit: MAP')
    await joints[0]?.trigger('click')
    const black = page.findAll('button').find((button) => button.text().startsWith('black'))
    await black?.trigger('click')
    await joints[1]?.trigger('click')
    expect(page.emitted('probe')).toEqual([[{ red: 'map.signal' }], [{ red: 'map.signal', black: 'unit.map' }]])
    page.unmount()
  })
})
