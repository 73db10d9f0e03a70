import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from '@/api/generated/schema'

export type Schemas = components['schemas']

/** A refused or failed request: the server's code and sentence, or status 0 when no server answered. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly place = '',
  ) {
    super(message)
  }
}

const NO_SERVER = 'The server does not answer. What you have entered is kept on this device; try again in a moment.'

const withCsrf: Middleware = {
  onRequest({ request }) {
    const token = /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1]
    if (token && request.method !== 'GET') request.headers.set('X-CSRFToken', token)
    return request
  },
}

export const client = createClient<paths>({ baseUrl: location.origin, fetch: (request) => globalThis.fetch(request) })
client.use(withCsrf)

interface Problem {
  code?: string
  message?: string
  place?: string
}

/** The data of an answer; an ApiError for everything else, a lost server included. */
export async function unwrap<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result
  try {
    result = await call
  } catch {
    throw new ApiError(0, 'no_server', NO_SERVER)
  }
  if (result.response.ok && result.data !== undefined) return result.data as T
  const problem = (typeof result.error === 'object' ? result.error : {}) as Problem
  const message = problem?.message ?? NO_SERVER
  throw new ApiError(
    problem?.message ? result.response.status : 0,
    problem?.code ?? 'no_server',
    message,
    problem?.place,
  )
}

/** The sentence of any error, for the screen. */
export function sentence(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return text.charAt(0).toUpperCase() + text.slice(1)
}
