import { computed, reactive } from 'vue'

/** What the server is computing for this page. */
export interface Working {
  since: number
  message: string
  share: number
  stop: () => void
}

const working = reactive(new Map<number, Working>())
let next = 0

/** The computation that this page waits for longest; undefined when it waits for none. */
export const longest = computed(() => [...working.values()].sort((a, b) => a.since - b.since)[0])

/** Pauses before a request that failed on the way is sent again. [ms] */
const BACKOFF = [300, 1000, 2500]
/** A server that asks for more patience than this gets none from a request that somebody waits for. [s] */
const LONGEST_WAIT = 8
const PASSING = new Set([429, 502, 503, 504])

export function pause(ms: number, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms)
    signal?.addEventListener('abort', () => {
      clearTimeout(timer)
      reject(signal.reason)
    })
  })
}

/** How long to wait before a failed request goes out again; undefined when it should not. [ms] */
export function pauseBefore(round: number, status: number | undefined, retryAfter: number): number | undefined {
  const planned = BACKOFF[round]
  if (planned === undefined || retryAfter > LONGEST_WAIT) return undefined
  if (status !== undefined && !PASSING.has(status)) return undefined
  return Math.max(planned, retryAfter * 1000)
}

/**
 * Send a request until it has an answer. While the server computes it says so (202), and the same request is sent again; a lost
 * connection or a busy server is tried a few times. Every change carries an id of its own, so that a repeat changes nothing.
 */
export async function patientFetch(request: Request): Promise<Response> {
  const own = new AbortController()
  const signal = AbortSignal.any([request.signal, own.signal])
  const number = (next += 1)
  try {
    for (let round = 0; ;) {
      let response: Response | undefined
      try {
        response = await globalThis.fetch(request.clone(), { signal })
      } catch (error) {
        if (signal.aborted) throw error
      }
      if (response?.status === 202) {
        const told = (await response.json()) as { message: string; share: number; retry_after_s: number }
        const since = working.get(number)?.since ?? Date.now()
        working.set(number, { since, message: told.message, share: told.share, stop: () => own.abort() })
        await pause(told.retry_after_s * 1000, signal)
        continue
      }
      const wait = response?.ok
        ? undefined
        : pauseBefore(round, response?.status, Number(response?.headers.get('Retry-After') ?? 0))
      if (wait === undefined) {
        if (response) return response
        throw new TypeError('no server')
      }
      round += 1
      await pause(wait, signal)
    }
  } finally {
    working.delete(number)
  }
}
