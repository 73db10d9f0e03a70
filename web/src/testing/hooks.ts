import type { VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, vi } from 'vitest'

/** Clocks stand still in the tests of a file: promises settle as ever; only what waits for a clock waits for the test. */
export function stopClocks(): void {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] })
  })
  afterEach(() => {
    vi.useRealTimers()
  })
}

/** After each test of a file its page goes, then the server that it was before. */
export function leaveAfterEach(page: () => VueWrapper): void {
  afterEach(() => {
    page().unmount()
    vi.unstubAllGlobals()
  })
}
