// @vitest-environment happy-dom
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { router } from '@/app/router'
import { session, type Me } from '@/api/session'

/** Where a person ends up who asks for an address. */
async function asks(person: Partial<Me> | null, address: string): Promise<string> {
  session.value = person as Me | null
  // From a page that nothing leads to by itself: so each way is one of its own.
  await router.push('/no/such/page')
  await router.push(address)
  return router.currentRoute.value.fullPath
}

const learner = { role: 'learner', bench: false } as const
const trainer = { role: 'trainer', bench: true } as const
const lead = { role: 'lead', bench: true } as const

// Pages are fetched when they are opened; who may see them is decided before.
for (const route of router.getRoutes())
  for (const name of Object.keys(route.components ?? {})) route.components![name] = { render: () => null }

describe('who is led where', () => {
  beforeEach(() => {
    session.value = null
  })
  afterAll(() => {
    session.value = undefined
  })

  it('a stranger signs in and then comes to what was asked for', async () => {
    expect(await asks(null, '/attempts/3?station=2')).toBe('/sign-in?to=/attempts/3?station=2')
    expect(await asks(null, '/')).toBe('/sign-in')
    expect(await asks(null, '/welcome?token=x')).toBe('/welcome?token=x')
  })

  it('nobody signs in twice', async () => {
    expect(await asks(trainer, '/sign-in')).toBe('/')
  })

  it.each([
    '/drive',
    '/signatures',
    '/plan',
    '/lessons/1',
    '/lessons/1/versions',
    '/lessons/1/results',
    '/school/rules',
  ])('a learner is led home from %s, where lessons are made', async (address) => {
    expect(await asks(learner, address)).toBe('/')
    expect(await asks(trainer, address)).toBe(address)
    expect(await asks(lead, address)).toBe(address)
  })

  it.each(['/school/people', '/school/trail'])('%s is for leads', async (address) => {
    expect(await asks(trainer, address)).toBe('/')
    expect(await asks(lead, address)).toBe(address)
  })

  it('a school opens at what its reader may change', async () => {
    expect(await asks(lead, '/school')).toBe('/school/people')
    expect(await asks(trainer, '/school')).toBe('/school/rules')
    expect(await asks(learner, '/school')).toBe('/')
  })

  it.each(['/bench', '/values'])('a learner has %s where the school allows a bench', async (address) => {
    expect(await asks(learner, address)).toBe('/')
    expect(await asks({ ...learner, bench: true }, address)).toBe(address)
  })

  it.each(['/', '/atlas', '/atlas/maf', '/atlas/words', '/workings', '/drills', '/attempts/3', '/attempts/3/debrief'])(
    'everybody who has signed in may see %s',
    async (address) => {
      expect(await asks(learner, address)).toBe(address)
    },
  )
})
