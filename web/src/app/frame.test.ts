// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest'
import App from '@/app/App.vue'
import { look } from '@/app/look'
import { session } from '@/api/session'
import { quiet, refusal, type Answers } from '@/testing/server'
import { button, PEOPLE, press, visited, type Visit } from '@/testing/visited'

let visit: Visit
afterEach(() => {
  visit.page.unmount()
  vi.unstubAllGlobals()
  session.value = undefined
})
const ANSWERS: Answers = {
  'PATCH /api/session': { ...PEOPLE.trainer, units: 'imperial' },
  'DELETE /api/session': {},
}
const app = (who = PEOPLE.trainer as (typeof PEOPLE)['trainer'] | null, address = '/', answers: Answers = {}) =>
  visited(
    App,
    {},
    { ...ANSWERS, ...answers },
    { who, address, stubs: { SearchBox: true, teleport: true, transition: true } },
  )
const ways = () => visit.page.findAll('nav a').map((link) => link.attributes('href'))

describe('the head of every page', () => {
  it('leads to what a person may see, and nowhere else', async () => {
    visit = await app()
    expect(ways()).toEqual([
      '/',
      '/drills',
      '/bench',
      '/atlas',
      '/values',
      '/signatures',
      '/workings',
      '/drive',
      '/school',
    ])
    visit.page.unmount()
    visit = await app(PEOPLE.learner)
    expect(ways()).toEqual(['/', '/drills', '/atlas', '/workings'])
    visit.page.unmount()
    visit = await app({ ...PEOPLE.learner, bench: true })
    expect(ways()).toEqual(['/', '/drills', '/bench', '/atlas', '/values', '/workings'])
  })

  it('leads a stranger nowhere', async () => {
    visit = await app(null, '/sign-in')
    expect(visit.page.find('nav').exists()).toBe(false)
    expect(visit.page.find('#units').exists()).toBe(false)
  })

  it('says where one is, also inside a part of the application', async () => {
    visit = await app(PEOPLE.lead, '/school/rules')
    const here = () => visit.page.findAll('nav .router-link-exact-active').map((link) => link.text())
    expect(here()).toEqual(['School'])
    await visit.router.push('/atlas/words')
    await quiet()
    expect(here()).toEqual(['Atlas'])
  })

  it('keeps the units with the account', async () => {
    visit = await app()
    await visit.page.get('#units').setValue('imperial')
    await quiet()
    expect(visit.calls('PATCH /api/session')[0]?.body).toEqual({ units: 'imperial' })
    expect(session.value?.units).toBe('imperial')
  })

  it('says that units could not be kept, and shows those that are in force', async () => {
    visit = await app(PEOPLE.trainer, '/', { 'PATCH /api/session': refusal(409, 'ended', 'your session has ended') })
    await visit.page.get('#units').setValue('imperial')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('Your session has ended')
    expect(session.value?.units).toBe('metric')
  })

  it('signs out here and on the server', async () => {
    visit = await app()
    await button(visit.page, 'Sign out').trigger('click')
    await quiet()
    expect(visit.calls('DELETE /api/session')).toHaveLength(1)
    expect(visit.address()).toBe('/sign-in')
    expect(session.value).toBeNull()
  })

  it('has a dark look for a dim workshop', async () => {
    visit = await app()
    const before = look.value
    const turn = visit.page.get('button.look')
    await turn.trigger('click')
    expect(look.value).not.toBe(before)
    await turn.trigger('click')
    expect(look.value).toBe(before)
  })
})

describe('the keys of a screen', () => {
  const rows = () => visit.page.findAll('tbody kbd').map((row) => row.text())

  it('are shown by ?, which stays a letter in a field', async () => {
    visit = await app()
    const field = document.createElement('input')
    document.body.append(field)
    await press('?', field)
    expect(visit.page.find('tbody').exists()).toBe(false)
    field.remove()
    await press('?')
    expect(rows()).toEqual(['/', 'Tab', '?'])
  })

  it('are those of the page that one is on', async () => {
    visit = await app(PEOPLE.trainer, '/drive')
    await press('?')
    expect(rows()).toContain('[ ]')
    visit.page.unmount()
    visit = await app(PEOPLE.trainer, '/bench')
    await press('?')
    expect(rows()).toContain('S')
    expect(rows()).not.toContain('[ ]')
  })
})
