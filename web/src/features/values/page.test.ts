// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import ValuesPage from '@/features/values/ValuesPage.vue'
import { leaveAfterEach, stopClocks } from '@/testing/hooks'
import { quiet, refusal, type Answers, type Asked } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
stopClocks()
leaveAfterEach(() => visit.page)

/** A sheet whose flow falls with the height, so that one can see whose it is. */
function sheet({ query }: Asked, base = 2) {
  const low = base - Number(query.altitude) / 2000
  const band = { low, high: low + 0.4, median: low + 0.2 }
  return {
    ...{ members: 200, kpa: 101.3, estimated: query.altitude !== '0', conditions: ['koeo', 'hot_idle'] },
    rows: [
      { channel: 'maf', quantity: 'mass_flow', stats: { mean: band }, width: 'Friction.' },
      { channel: 'maf_true', quantity: 'mass_flow', stats: { mean: band }, width: '' },
    ],
  }
}
const OWN = {
  ...{ id: 3, channel: 'maf', condition: 'hot_idle', low: 4, high: 5, source: 'service sheet', vehicle: '' },
  ...{ made_at: '2026-11-02T08:30:00Z', made_by: 'Brandt' },
}
const ANSWERS: Answers = {
  'GET /api/rigs/R1/values': sheet,
  'GET /api/rigs/R2/values': (asked: Asked) => sheet(asked, 7),
  'GET /api/rigs/R1/service-values': [],
  'DELETE /api/rigs/R1/service-values/3': [],
  'POST /api/rigs/R1/values/full': {},
}
const values = (address = '/values', answers: Answers = {}, who = PEOPLE.trainer) =>
  visited(ValuesPage, {}, { ...ANSWERS, ...answers }, { address, who, stubs: { AtlasLink: true } })
const body = () => visit.page.get('tbody').text()
async function slide(label: string, value: number) {
  const row = visit.page.findAllComponents({ name: 'SliderRow' }).find((entry) => entry.props('label') === label)
  row!.vm.$emit('slide', value)
  await vi.advanceTimersByTimeAsync(300)
  await quiet()
}

describe('what sound engines show', () => {
  it('is told of one engine in one condition, with how many engines and in which air', async () => {
    visit = await values()
    expect(visit.page.get('h1').text()).toContain('Library bus')
    expect(visit.page.get('header').text()).toContain('95 in 100 of 200 sound engines')
    expect(visit.page.findAll('button.name')).toHaveLength(1)
    expect(body()).toContain('2.00 … 2.40')
    expect(visit.page.text()).not.toContain('Estimated')
  })

  it('has an address that can be sent to somebody', async () => {
    visit = await values('/values?condition=koeo&beside=R2')
    expect(visit.calls('GET /api/rigs/R1/values')[0]?.query.condition).toBe('koeo')
    expect(visit.calls('GET /api/rigs/R2/values')).toHaveLength(1)
    const picks = visit.page.findAllComponents({ name: 'PickOne' })
    picks.at(-1)!.vm.$emit('choose', 'hot_idle')
    await quiet()
    expect(visit.address()).toContain('condition=hot_idle')
    expect(visit.address()).toContain('beside=R2')
  })

  it('stands beside another engine, where nothing in common is said in words', async () => {
    visit = await values('/values?beside=R2')
    expect(body()).toContain('7.00 … 7.40')
    expect(body()).toContain('no overlap')
    await button(visit.page, 'This engine alone').trigger('click')
    await quiet()
    expect(body()).not.toContain('7.00')
  })

  it('in other air is an estimate, beside the values at the school', async () => {
    visit = await values()
    await slide('Height', 1000)
    expect(visit.page.get('header').text()).toContain('Estimated.')
    expect(visit.calls('GET /api/rigs/R1/values').map((one) => one.query.altitude)).toEqual(['0', '1000'])
    expect(body()).toContain('1.50 … 1.90')
    await button(visit.page, 'Back to the school’s day').trigger('click')
    await vi.advanceTimersByTimeAsync(300)
    await quiet()
    expect(body()).toContain('2.00 … 2.40')
    expect(visit.page.text()).not.toContain('Estimated')
  })

  it('waits for the hand to rest before it computes', async () => {
    visit = await values()
    const row = visit.page.findAllComponents({ name: 'SliderRow' }).find((entry) => entry.props('label') === 'Height')!
    for (const metres of [200, 400, 600]) {
      row.vm.$emit('slide', metres)
      await vi.advanceTimersByTimeAsync(100)
    }
    await vi.advanceTimersByTimeAsync(300)
    await quiet()
    expect(visit.calls('GET /api/rigs/R1/values').map((one) => one.query.altitude)).toEqual(['0', '600'])
  })

  it('is computed for a whole population there when a trainer asks for it', async () => {
    visit = await values()
    await slide('Height', 1000)
    await button(visit.page, 'Compute the full sheet there (minutes)').trigger('click')
    await quiet()
    const sent = visit.calls('POST /api/rigs/R1/values/full')[0]?.body
    expect(sent).toEqual({ air: { celsius: 20, altitude: 1000, ethanol: 0 } })
    visit.page.unmount()
    visit = await values('/values', {}, PEOPLE.learner)
    await slide('Height', 1000)
    expect(visit.page.text()).not.toContain('Compute the full sheet')
  })

  it('is taken along for the air that is on the page', async () => {
    visit = await values()
    await slide('Height', 1000)
    await visit.page.get('.check input').setValue(true)
    const [paper, table] = visit.page.findAll('a.tool').map((link) => link.attributes('href'))
    expect(paper).toBe('/api/rigs/R1/values/paper?celsius=20&altitude=1000&ethanol=0&blank=true')
    expect(table).toBe('/api/rigs/R1/values/table?celsius=20&altitude=1000&ethanol=0')
  })

  it('stands beside the values of the service information, which can be taken back', async () => {
    visit = await values('/values', { 'GET /api/rigs/R1/service-values': [OWN] })
    expect(body()).toContain('4.00 … 5.00')
    visit.page.getComponent({ name: 'SheetTable' }).vm.$emit('forget', 3)
    await quiet()
    expect(visit.calls('DELETE /api/rigs/R1/service-values/3')).toHaveLength(1)
    expect(body()).not.toContain('4.00 … 5.00')
  })

  it('says in a sentence why there are none', async () => {
    visit = await values('/values', { 'GET /api/rigs/R1/values': refusal(422, 'air', 'nobody drives at 9,000 m') })
    expect(visit.page.get('[role=alert]').text()).toBe('Nobody drives at 9,000 m')
    expect(visit.page.find('tbody').exists()).toBe(false)
  })
})
