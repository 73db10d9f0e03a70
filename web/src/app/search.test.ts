// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import SearchBox from '@/app/SearchBox.vue'
import type { Me } from '@/api/session'
import { leaveAfterEach, stopClocks } from '@/testing/hooks'
import { quiet, refusal, type Answers } from '@/testing/server'
import { PEOPLE, press, visited, type Visit } from '@/testing/visited'

let visit: Visit
stopClocks()
leaveAfterEach(() => visit.page)

const hit = (kind: string, id: string, page = '') => ({ kind, id, title: `The ${id}`, text: 'what it is', page })
const ALL = [hit('calculation', 've'), hit('engine', 'R3'), hit('term', 'lambda')]

async function box(found: unknown, who: Me = PEOPLE.trainer) {
  const answers: Answers = { 'GET /api/search': found }
  const stubs = { teleport: true, transition: true }
  visit = await visited(SearchBox, {}, answers, { who, address: '/school/rules', stubs })
}
const field = () => visit.page.get<HTMLInputElement>('input[role=combobox]')
async function look(words: string) {
  await press('/')
  await field().setValue(words)
  await vi.advanceTimersByTimeAsync(150)
  await quiet()
}
const options = () => visit.page.findAll('[role=option]')

describe('the search', () => {
  it('opens by one key, but not while somebody types a slash into a field', async () => {
    await box(ALL)
    const other = document.createElement('input')
    document.body.append(other)
    await press('/', other)
    expect(visit.page.find('input[role=combobox]').exists()).toBe(false)
    other.remove()
    await press('/')
    expect(field().isVisible()).toBe(true)
  })

  it('asks when the hand rests, once, for what was typed', async () => {
    await box(ALL)
    await look('  air mass ')
    expect(visit.calls('GET /api/search').map((one) => one.query)).toEqual([{ words: 'air mass' }])
    expect(options().map((option) => option.get('b').text())).toEqual(['The ve', 'The R3', 'The lambda'])
  })

  it('is gone through by keys, not beyond its ends', async () => {
    await box(ALL)
    await look('air')
    const chosen = () => options().findIndex((option) => option.attributes('aria-selected') === 'true')
    expect(chosen()).toBe(0)
    for (let k = 0; k < 5; k += 1) await field().trigger('keydown.down')
    expect(chosen()).toBe(2)
    expect(field().attributes('aria-activedescendant')).toBe('found-2')
    await field().trigger('keydown.up')
    await field().trigger('keydown.enter')
    await quiet()
    expect(visit.address()).toBe('/atlas?rig=R3')
  })

  it('says that nothing is called so, and why it could not look', async () => {
    await box([])
    await look('xyz')
    expect(options()).toHaveLength(0)
    expect(visit.page.get('p.soft').text()).not.toBe('')
    visit.page.unmount()
    await box(refusal(422, 'long', 'at most eighty letters'))
    await look('xyz')
    expect(visit.page.get('[role=alert]').text()).toBe('At most eighty letters')
  })

  it.each([
    ['a calculation', hit('calculation', 've'), PEOPLE.learner, '/workings?of=ve'],
    ['a condition, at a bench', hit('condition', 'hot_idle'), PEOPLE.trainer, '/values?condition=hot_idle'],
    ['a condition, without one', hit('condition', 'hot_idle'), PEOPLE.learner, '/atlas/words?term='],
    ['an engine', hit('engine', 'R3'), PEOPLE.learner, '/atlas?rig=R3'],
    ['a fault, for a trainer', hit('fault', 'leak', 'intake'), PEOPLE.trainer, '/signatures?kind=leak'],
    ['a fault, for a learner', hit('fault', 'leak', 'intake'), PEOPLE.learner, '/atlas/intake#faults'],
    ['a channel', hit('channel', 'maf', 'meter'), PEOPLE.trainer, '/atlas/meter#good'],
    ['a drawing', hit('drawing', 'film', 'meter'), PEOPLE.trainer, '/atlas/meter?drawing=film#drawings'],
    ['a myth', hit('myth', 'm7', 'meter'), PEOPLE.trainer, '/atlas/meter#m7'],
    ['a device', hit('device', 'meter', 'meter'), PEOPLE.learner, '/atlas/meter'],
    ['a code, for a trainer', hit('code', 'P0171'), PEOPLE.trainer, '/signatures?tab=symptoms'],
    ['a term', hit('term', 'lambda'), PEOPLE.learner, '/atlas/words?term=The+lambda'],
  ])('leads to where more is told of %s', async (_what, found, who, address) => {
    await box([found], who)
    await look('it')
    await options()[0]!.trigger('click')
    await quiet()
    expect(visit.address()).toBe(address)
  })
})
