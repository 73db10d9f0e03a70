// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { session } from '@/api/session'
import AccountPage from '@/features/account/AccountPage.vue'
import WelcomePage from '@/features/account/WelcomePage.vue'
import DoubtPuzzle from '@/features/session/DoubtPuzzle.vue'
import SignInPage from '@/features/session/SignInPage.vue'
import { quiet, refusal, type Asked, type Answers } from '@/testing/server'
import { button, PEOPLE, visited, type Visit } from '@/testing/visited'

let visit: Visit
afterEach(() => {
  visit.page.unmount()
  vi.unstubAllGlobals()
  session.value = undefined
})

describe('signing in', () => {
  const ANSWERS: Answers = { 'POST /api/session': PEOPLE.learner }
  const at = (address: string, answers = ANSWERS) =>
    visited(SignInPage, {}, answers, { who: null, address, stubs: { DoubtPuzzle: true } })
  async function type(name: string, password: string) {
    await visit.page.get('#name').setValue(name)
    await visit.page.get('#password').setValue(password)
    await visit.page.get('form').trigger('submit')
    await quiet()
  }

  it('asks for both before it asks the server', async () => {
    visit = await at('/sign-in')
    await type('ritter', '')
    expect(visit.page.get('[role=alert]').text()).toBe('Enter name and password.')
    await type('  ', 'secret')
    expect(visit.asked).toEqual([])
  })

  it('leads home, or to what was asked for', async () => {
    visit = await at('/sign-in')
    await type('ritter', 'hollerbach')
    expect(visit.address()).toBe('/')
    expect(session.value?.username).toBe('ritter')
    visit.page.unmount()
    visit = await at('/sign-in?to=/attempts/3?station=2')
    await type('ritter', 'hollerbach')
    expect(visit.address()).toBe('/attempts/3?station=2')
  })

  it('leads nobody to another site', async () => {
    visit = await at('/sign-in?to=https://elsewhere.example/')
    await type('ritter', 'hollerbach')
    expect(visit.address()).toBe('/')
  })

  it('says that name or password is wrong, and keeps the name', async () => {
    visit = await at('/sign-in', { 'POST /api/session': refusal(401, 'sign_in', 'wrong name or password') })
    await type('ritter', 'no')
    expect(visit.page.get('[role=alert]').text()).toBe('Wrong name or password')
    expect(visit.page.get<HTMLInputElement>('#name').element.value).toBe('ritter')
    expect(visit.address()).toBe('/sign-in')
  })
})

describe('a one-time link', () => {
  it('sets the password of its account and signs in', async () => {
    const answers = { 'POST /api/session/link': PEOPLE.learner }
    visit = await visited(WelcomePage, {}, answers, { who: null, address: '/welcome#token-7' })
    await visit.page.get('#first-password').setValue('a long enough one')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.calls('POST /api/session/link')[0]?.body).toEqual({ token: 'token-7', password: 'a long enough one' })
    expect(visit.address()).toBe('/')
    expect(session.value?.username).toBe('ritter')
  })

  it('that was used already is said to be', async () => {
    const answers = { 'POST /api/session/link': refusal(404, 'link', 'this link was used or is too old') }
    visit = await visited(WelcomePage, {}, answers, { who: null, address: '/welcome#old' })
    await visit.page.get('#first-password').setValue('a long enough one')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('This link was used or is too old')
    expect(session.value).toBeNull()
  })
})

describe("one's own account", () => {
  const row = (here: boolean) => ({ here, started_at: '2026-11-02T08:30:00Z', address: '10.0.0.4' })
  const ANSWERS: Answers = {
    'GET /api/sessions': [row(true), row(false)],
    'DELETE /api/sessions': { count: 1 },
    'POST /api/session/password': {},
  }

  it('tells where one is signed in, and ends all others', async () => {
    visit = await visited(AccountPage, {}, ANSWERS)
    expect(visit.page.findAll('tbody tr')).toHaveLength(2)
    await button(visit.page, 'End all others').trigger('click')
    await quiet()
    expect(visit.page.get('[role=status]').text()).toBe('One session was ended.')
    expect(visit.calls('GET /api/sessions')).toHaveLength(2)
  })

  it('has nothing to end where there is no other', async () => {
    visit = await visited(AccountPage, {}, { ...ANSWERS, 'GET /api/sessions': [row(true)] })
    expect(button(visit.page, 'End all others').attributes('disabled')).toBeDefined()
  })

  it('changes the password and forgets both as soon as it is done', async () => {
    visit = await visited(AccountPage, {}, ANSWERS, { who: { ...PEOPLE.trainer, demo: true } })
    expect(visit.page.text()).toContain('everybody knows its password')
    await visit.page.get('#old-password').setValue('hollerbach')
    await visit.page.get('#new-password').setValue('quite another one')
    await visit.page.get('form').trigger('submit')
    await quiet()
    const sent = visit.calls('POST /api/session/password')[0]?.body
    expect(sent).toEqual({ old: 'hollerbach', new: 'quite another one' })
    expect(visit.page.get('[role=status]').text()).toMatch(/^Your password is changed/)
    expect(visit.page.get<HTMLInputElement>('#new-password').element.value).toBe('')
    expect(visit.page.text()).not.toContain('everybody knows its password')
  })

  it('says why a password is not taken, and keeps what was typed', async () => {
    const refused = refusal(422, 'password', 'this password is too common')
    visit = await visited(AccountPage, {}, { ...ANSWERS, 'POST /api/session/password': refused })
    await visit.page.get('#old-password').setValue('hollerbach')
    await visit.page.get('#new-password').setValue('password123')
    await visit.page.get('form').trigger('submit')
    await quiet()
    expect(visit.page.get('[role=alert]').text()).toBe('This password is too common')
    expect(visit.page.get<HTMLInputElement>('#new-password').element.value).toBe('password123')
  })
})

describe('the question on the first page', () => {
  const reading = (id: string, label: string) => ({
    ...{ id, term: id.toUpperCase(), label, place: 'intake', family: 'airflow', unit: 'g/s' },
    ...{ value: 2.5, trace: [2.4, 2.5, 2.6], digits: 1, step: 0.1 },
  })
  const engine = (number: number) => ({
    ...{ number, count: 2, rig: `Engine ${number}`, condition: 'Hot idle' },
    readings: [reading('maf', 'Mass airflow'), reading('map', 'Manifold pressure')],
  })
  const answer = ({ body }: Asked) => {
    const right = (body as { reading: string }).reading === 'maf'
    return { id: 'maf', right, verdict: 'faulty', reason: '4.10 lies above 3.20.' }
  }
  const ANSWERS: Answers = {
    'GET /api/puzzles/1': engine(1),
    'GET /api/puzzles/2': engine(2),
    'POST /api/puzzles/1/answer': answer,
    'POST /api/puzzles/2/answer': answer,
  }
  beforeEach(() => {
    vi.stubGlobal('matchMedia', () => ({ matches: true }))
  })
  const puzzle = () => visited(DoubtPuzzle, {}, ANSWERS, { who: null, stubs: { ThreadLine: true } })
  async function pick(id: string) {
    visit.page.getComponent({ name: 'ThreadLine' }).vm.$emit('pick', id)
    await quiet()
  }

  it('tells no verdict before somebody has picked a reading', async () => {
    visit = await puzzle()
    const knots = visit.page.getComponent({ name: 'ThreadLine' }).props('knots') as { verdict?: string }[]
    expect(knots).toHaveLength(2)
    expect(knots.every((knot) => knot.verdict === undefined)).toBe(true)
    expect(visit.page.get('.answer').text()).toBe('')
  })

  it('says whether it was the one, which it was, and why', async () => {
    visit = await puzzle()
    await pick('map')
    expect(visit.page.get('.answer').text()).toContain('Mass airflow.')
    expect(visit.page.get('.answer').text()).toContain('4.10 lies above 3.20.')
    expect(visit.page.get('.answer').text()).toContain('Manifold pressure')
  })

  it('takes one answer, and goes round through all puzzles', async () => {
    visit = await puzzle()
    await pick('map')
    await pick('maf')
    expect(visit.calls('POST /api/puzzles/1/answer').map((one) => one.body)).toEqual([{ reading: 'map' }])
    const next = visit.page.get('button.again')
    await next.trigger('click')
    await quiet()
    expect(visit.page.text()).toContain('Engine 2')
    expect(visit.page.get('.answer').text()).toBe('')
    await next.trigger('click')
    await quiet()
    expect(visit.page.text()).toContain('Engine 1')
  })
})
