// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client, unwrap } from '@/api/client'
import WorkingStrip from '@/app/WorkingStrip.vue'
import { leaveAfterEach } from '@/testing/hooks'
import { button, visited, type Visit } from '@/testing/visited'
import { quiet } from '@/testing/server'

let visit: Visit
beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})
leaveAfterEach(() => visit.page)

/** A server that is still computing so many times before it has the answer. */
function computing(times: number): () => Response {
  const told = { message: 'The value sheet is being computed', share: 0.4, retry_after_s: 1 }
  return () => {
    times -= 1
    return times < 0 ? new Response('[]', { status: 200 }) : new Response(JSON.stringify(told), { status: 202 })
  }
}
async function wait(ms: number): Promise<void> {
  await vi.advanceTimersByTimeAsync(ms)
  await quiet()
}

describe('what the server computes for this page', () => {
  it('is told once it takes longer than a glance, with how far it is, and goes when it is done', async () => {
    visit = await visited(WorkingStrip, {}, { 'GET /api/people': computing(4) })
    const answer = unwrap(client.GET('/api/people'))
    await wait(1000)
    expect(visit.page.find('[role=status]').exists()).toBe(false)
    await wait(1000)
    expect(visit.page.get('[role=status]').text()).toContain('The value sheet is being computed')
    expect(visit.page.get('progress').attributes('value')).toBe('0.4')
    await wait(4000)
    expect(await answer).toEqual([])
    expect(visit.page.find('[role=status]').exists()).toBe(false)
  })

  it('is stopped by hand: whoever waits is told that nothing was changed', async () => {
    visit = await visited(WorkingStrip, {}, { 'GET /api/people': computing(99) })
    const answer = unwrap(client.GET('/api/people')).catch((error: Error) => error.message)
    await wait(2500)
    await button(visit.page, 'Stop').trigger('click')
    await wait(1500)
    expect(await answer).toBe('Stopped. Nothing was changed.')
    expect(visit.page.find('[role=status]').exists()).toBe(false)
  })
})
