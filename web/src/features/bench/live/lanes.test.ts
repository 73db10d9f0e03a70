// @vitest-environment happy-dom
import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, reactive, ref, shallowRef } from 'vue'
import { session } from '@/api/session'
import LiveLanes from '@/features/bench/live/LiveLanes.vue'
import { Series } from '@/features/bench/live/series'
import { mounted } from '@/testing/mounted'

const STUBS = { LanePlot: true, MarkRibbon: true }

/** A line whose engine has run for a minute; each call of ``hears`` brings half a second more. */
function running() {
  const series = new Series(['maf'])
  const line = {
    state: reactive({ pace: 1 }),
    series: shallowRef(series),
    detail: shallowRef(),
    beat: ref(0),
    seconds: ref(0),
    now: shallowRef(),
    bands: ref([]),
    quantities: ref({}),
    spells: ref([]),
    readings: ref([]),
    events: ref([]),
    askDetail: vi.fn(),
  }
  const hears = (seconds: number, value: number) => {
    const frames = seconds * 100
    const values = new Float32Array(2 * frames).fill(value)
    series.append({
      past: false,
      watch: 0,
      first: line.seconds.value * 100,
      between: 1,
      points: frames,
      frames,
      values,
    })
    line.seconds.value += seconds
    line.beat.value += 1
  }
  hears(60, 2)
  return { line, hears }
}

describe('lanes of a running engine', () => {
  let page: ReturnType<typeof mounted>
  let drawn: ReturnType<typeof vi.spyOn>
  const shown = () => page.get('[data-testid=reading-maf]').text()
  const passes = async (ms: number) => {
    await nextTick()
    vi.advanceTimersByTime(ms)
    await nextTick()
    await flushPromises()
  }

  beforeEach(() => {
    session.value = null
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'requestAnimationFrame', 'performance'] })
    drawn = vi.spyOn(window, 'requestAnimationFrame')
  })
  afterEach(() => {
    page.unmount()
    drawn.mockRestore()
    vi.useRealTimers()
  })

  function lanes(line: object) {
    page = mounted(
      LiveLanes,
      { line, channels: ['maf'], available: ['maf'], showTwin: true, laneHeight: 100, removable: false },
      STUBS,
    )
  }

  it('are drawn again when something new has come, and only then', async () => {
    const { line, hears } = running()
    lanes(line)
    await passes(1000)
    expect(shown()).toBe('2.00')
    const before = drawn.mock.calls.length
    await passes(60_000)
    expect(drawn.mock.calls.length).toBe(before)

    hears(0.5, 3)
    await passes(1000)
    expect(shown()).toBe('3.00')
    expect(drawn.mock.calls.length).toBe(before + 1)
  })

  it('are drawn calmly however often something comes, and end with the last of it', async () => {
    const { line, hears } = running()
    lanes(line)
    await passes(1000)
    const before = drawn.mock.calls.length
    for (let k = 1; k <= 100; k += 1) {
      hears(0.01, 2 + k / 100)
      await passes(10)
    }
    await passes(1000)
    expect(shown()).toBe('3.00')
    const times = drawn.mock.calls.length - before
    expect(times).toBeGreaterThan(4)
    expect(times).toBeLessThanOrEqual(18)
  })

  it('are drawn less often the less they move on the screen', async () => {
    const { line, hears } = running()
    lanes(line)
    await passes(1000)
    await page
      .findAll('button')
      .find((button) => button.text() === '5 min')!
      .trigger('click')
    await passes(1000)
    const before = drawn.mock.calls.length
    for (let k = 0; k < 100; k += 1) {
      hears(0.01, 2)
      await passes(10)
    }
    expect(drawn.mock.calls.length - before).toBeLessThanOrEqual(6)
  })
})
