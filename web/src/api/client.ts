import createClient, { type Middleware } from 'openapi-fetch'
import { patientFetch } from '@/api/patience'
import type { components, paths } from '@/api/generated/schema'

export type Schemas = components['schemas']

/** A refused or failed request: the server's code and sentence, or status 0 when no server answered. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly place = '',
    readonly problems: Schemas['StationProblem'][] = [],
  ) {
    super(message)
  }

  /** Whether the same request may well succeed later: nobody answered, or the server was in trouble. */
  get passing(): boolean {
    return this.status === 0 || this.status === 429 || this.status >= 500
  }
}

const STOPPED = 'Stopped. Nothing was changed.'
const NO_SERVER = 'The server does not answer. What you have entered is kept on this device; try again in a moment.'

/** A UUID for one change. Not every page is in a secure context, where the browser would make one. */
export function newChangeId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')
}

/** This page, so that its newest question takes the place of its older ones and of nobody else's. */
const PAGE = newChangeId()

/** Every change carries this site's token, and an id under which the server does it once. */
const withHeaders: Middleware = {
  onRequest({ request }) {
    request.headers.set('X-Page', PAGE)
    if (request.method === 'GET') return request
    const token = /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1]
    if (token) request.headers.set('X-CSRFToken', token)
    if (!request.headers.has('X-Change-Id')) request.headers.set('X-Change-Id', newChangeId())
    return request
  },
}

export const client = createClient<paths>({ baseUrl: location.origin, fetch: patientFetch })
client.use(withHeaders)

interface Problem {
  code?: string
  message?: string
  place?: string
  problems?: Schemas['StationProblem'][]
}

/** Answers of an operation, without the one that only says that it is being computed: nobody but patientFetch sees that. */
type Answer<T> = Exclude<T, Schemas['ComputingOut']>

/** The data of an answer; an ApiError for everything else, a lost server included. */
export async function unwrap<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<Answer<T>> {
  let result
  try {
    result = await call
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw new ApiError(499, 'stopped', STOPPED)
    throw new ApiError(0, 'no_server', NO_SERVER)
  }
  if (result.response.ok && result.data !== undefined) return result.data as Answer<T>
  const problem = (typeof result.error === 'object' ? result.error : {}) as Problem
  const message = problem?.message ?? NO_SERVER
  throw new ApiError(
    problem?.message ? result.response.status : 0,
    problem?.code ?? 'no_server',
    message,
    problem?.place,
    problem?.problems,
  )
}

/** The sentence of any error, for the screen. */
export function sentence(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return text.charAt(0).toUpperCase() + text.slice(1)
}
