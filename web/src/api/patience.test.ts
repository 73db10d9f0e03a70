import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { longest, patientFetch, pauseBefore } from '@/api/patience'

const URL = 'http://127.0.0.1/api/anything'

function answer(status: number, body: unknown = {}, headers: Record<string, string> = {}) {
  return new Response(JSON.stringify(body), { status, headers })
}

describe('a patient request', () => {
  const fetch = vi.fn<(request: Request) => Promise<Response>>()
  beforeEach(() => {
    vi.useFakeTimers()
    vi.stubGlobal('fetch', fetch)
    fetch.mockReset()
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.unstubAllGlobals()
  })

  it('asks again while the server computes, and tells what it waits for', async () => {
    fetch.mockResolvedValueOnce(answer(202, { message: '34 of 200 engines', share: 0.17, retry_after_s: 0.25 }))
    fetch.mockResolvedValueOnce(answer(200, { done: true }))
    const waiting = patientFetch(new Request(URL))
    await vi.advanceTimersByTimeAsync(10)
    expect(longest.value?.message).toBe('34 of 200 engines')
    await vi.advanceTimersByTimeAsync(300)
    expect((await waiting).status).toBe(200)
    expect(longest.value).toBeUndefined()
  })

  it('sends a lost change again under the same id', async () => {
    fetch.mockRejectedValueOnce(new TypeError('lost'))
    fetch.mockResolvedValueOnce(answer(200))
    const waiting = patientFetch(new Request(URL, { method: 'POST', body: '{}', headers: { 'X-Change-Id': 'abc' } }))
    await vi.advanceTimersByTimeAsync(500)
    expect((await waiting).status).toBe(200)
    expect(fetch.mock.calls.map(([request]) => request.headers.get('X-Change-Id'))).toEqual(['abc', 'abc'])
  })

  it('stops when somebody stops it', async () => {
    fetch.mockImplementation(async () => answer(202, { message: 'long', share: 0, retry_after_s: 0.25 }))
    const waiting = patientFetch(new Request(URL))
    const ended = expect(waiting).rejects.toThrow()
    await vi.advanceTimersByTimeAsync(1000)
    longest.value?.stop()
    await vi.advanceTimersByTimeAsync(1000)
    await ended
    expect(longest.value).toBeUndefined()
  })

  it('gives up after a few tries and passes the last answer on', async () => {
    fetch.mockImplementation(async () => answer(503))
    const waiting = patientFetch(new Request(URL))
    await vi.advanceTimersByTimeAsync(10_000)
    expect((await waiting).status).toBe(503)
    expect(fetch).toHaveBeenCalledTimes(4)
  })
})

describe('the pause before a repeat', () => {
  it('is never shorter than the server asks for', () => expect(pauseBefore(0, 503, 3)).toBe(3000))
  it('is none after a refusal', () => expect(pauseBefore(0, 422, 0)).toBeUndefined())
  it('is none when the server asks for minutes', () => expect(pauseBefore(0, 429, 60)).toBeUndefined())
  it('grows', () => expect(pauseBefore(1, undefined, 0)).toBeGreaterThan(pauseBefore(0, undefined, 0) ?? 0))
})
