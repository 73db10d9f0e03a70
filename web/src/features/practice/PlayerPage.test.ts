// @vitest-environment happy-dom
import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import PlayerPage from '@/features/practice/PlayerPage.vue'
import { mounted } from '@/testing/mounted'

const went = vi.hoisted(() => vi.fn())
vi.mock('vue-router', () => ({
  RouterLink: { template: '<a><slot /></a>' },
  useRouter: () => ({ push: went, replace: went }),
}))

interface Sent {
  url: string
  method: string
  change: string | null
  body: unknown
}

/** A server that holds an attempt at one station where a value is measured. */
let server: { sent: Sent[]; answers: (() => Response)[] }

function json(status: number, content: unknown): Response {
  // A server that asks for so much patience is not asked again by itself.
  const wait: Record<string, string> = status === 503 ? { 'Retry-After': '60' } : {}
  return new Response(JSON.stringify(content), { status, headers: { 'Content-Type': 'application/json', ...wait } })
}
const ATTEMPT = {
  id: 7,
  title: 'A leak',
  goal: 'tell a leak',
  cautions: [],
  rig: 'R1',
  finished: false,
  stations: [{ index: 0, title: 'Trim', kind: 'measure', open: true, answered: false }],
}
const STATION = {
  station: {
    index: 0,
    kind: 'measure',
    title: 'Trim',
    text: '',
    has_lanes: false,
    drawing: 'none',
    channels: [],
    readings: [
      {
        condition: 'hot_idle',
        condition_label: 'Hot idle',
        channel: 'maf',
        label: 'Mass airflow',
        unit: 'g/s',
        quantity: 'mass_flow',
      },
    ],
  },
  answer: null,
}

async function fake(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url)
  const body =
    request.method === 'GET'
      ? null
      : await request
          .clone()
          .json()
          .catch(() => null)
  server.sent.push({ url: pathname, method: request.method, change: request.headers.get('X-Change-Id'), body })
  if (pathname.endsWith('/answer')) return server.answers.shift()!()
  if (pathname.endsWith('/finish')) return json(200, { finished: true })
  return json(200, pathname.endsWith('/stations/0') ? STATION : ATTEMPT)
}

async function player() {
  const page = mounted(PlayerPage, { id: '7' }, { ThreadLine: true, CautionNote: true })
  await flushPromises()
  await flushPromises()
  return page
}
const posted = () => server.sent.filter((entry) => entry.url.endsWith('/answer'))

describe('player', () => {
  let page: Awaited<ReturnType<typeof player>>
  beforeEach(() => {
    server = { sent: [], answers: [] }
    vi.stubGlobal('fetch', fake)
    localStorage.clear()
    went.mockClear()
  })
  afterEach(() => {
    page.unmount()
    vi.unstubAllGlobals()
  })

  it('says what is missing and sends nothing', async () => {
    page = await player()
    await page.get('form').trigger('submit')
    expect(page.get('[role=alert]').text()).toContain('No reading is entered yet')
    expect(posted()).toEqual([])
  })

  it('keeps an answer on the device until the server has it, and sends it again under the same id', async () => {
    server.answers = [
      () => json(503, { code: 'busy', message: 'The server restarts.' }),
      () => json(200, { next: null }),
    ]
    page = await player()
    await page.get('input').setValue('4.5 g/s')
    await page.get('form').trigger('submit')
    await flushPromises()
    expect(page.get('[role=alert]').text()).toBe('The server restarts.')
    expect(localStorage.length).toBe(1)
    await page.get('form').trigger('submit')
    await flushPromises()
    await flushPromises()
    const [first, second] = posted()
    expect(first!.body).toEqual({ answer: { kind: 'measure', reading: '4.5 g/s' } })
    expect(second).toEqual(first)
    expect(localStorage.length).toBe(0)
    expect(went).toHaveBeenCalledWith({ name: 'debrief', params: { id: '7' } })
  })

  it('sends a changed answer under an id of its own', async () => {
    server.answers = [() => json(503, { code: 'busy', message: 'Busy.' }), () => json(200, { next: null })]
    page = await player()
    await page.get('input').setValue('4.5 g/s')
    await page.get('form').trigger('submit')
    await flushPromises()
    await page.get('input').setValue('5.5 g/s')
    await page.get('form').trigger('submit')
    await flushPromises()
    const [first, second] = posted()
    expect(second!.change).not.toBe(first!.change)
  })

  it('comes back with what was typed before the page was left', async () => {
    page = await player()
    await page.get('input').setValue('3.3 g/s')
    page.unmount()
    page = await player()
    expect((page.get('input').element as HTMLInputElement).value).toBe('3.3 g/s')
  })
})
