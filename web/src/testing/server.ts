import { flushPromises } from '@vue/test-utils'
import { vi } from 'vitest'

/** What the page asked for. */
export interface Asked {
  method: string
  path: string
  query: Record<string, string>
  body: unknown
  /** The id under which the server does a change once. */
  change: string | null
}

/** Answers by method and path, such as `GET /api/people`; a function answers each call anew. */
export type Answers = Record<string, unknown>

/** A refusal in the form in which the API gives it. One of a busy server asks for so much patience that nobody waits for it. */
export function refusal(status: number, code: string, message: string): Response {
  const headers = { 'Content-Type': 'application/json', ...(status === 503 ? { 'Retry-After': '60' } : {}) }
  return new Response(JSON.stringify({ code, message }), { status, headers })
}

/**
 * A server in the place of the network. What it is asked is in the list that comes back; what it has no answer for it refuses
 * as not found. `vi.unstubAllGlobals()` takes it away.
 */
export function serve(answers: Answers): Asked[] {
  const asked: Asked[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const { pathname, searchParams } = new URL(request.url)
    const text = request.method === 'GET' ? '' : await request.clone().text()
    const one: Asked = {
      method: request.method,
      path: pathname,
      query: Object.fromEntries(searchParams),
      body: text ? JSON.parse(text) : null,
      change: request.headers.get('X-Change-Id'),
    }
    asked.push(one)
    const answer = answers[`${one.method} ${one.path}`]
    const told: unknown = await (typeof answer === 'function' ? (answer as (of: Asked) => unknown)(one) : answer)
    if (told === undefined) return refusal(404, 'not_found', `There is no ${one.method} ${one.path}.`)
    if (told instanceof Response) return told
    return new Response(JSON.stringify(told), { status: 200, headers: { 'Content-Type': 'application/json' } })
  })
  return asked
}

/** Wait until nothing is under way any more: requests, and what they bring about. */
export async function quiet(): Promise<void> {
  for (let round = 0; round < 4; round += 1) await flushPromises()
}
