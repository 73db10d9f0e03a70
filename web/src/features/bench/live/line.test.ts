// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { mount, type VueWrapper } from '@vue/test-utils'
import { defineComponent, nextTick, ref } from 'vue'
import { useLine, type Line } from '@/features/bench/live/line'

type Message = Record<string, unknown>

/** The other end of the line, in the hands of a test. */
class Socket {
  static readonly OPEN = 1
  static all: Socket[] = []
  static get last(): Socket {
    return Socket.all.at(-1)!
  }

  readyState = 0
  binaryType = ''
  sent: Message[] = []
  onmessage: (event: { data: unknown }) => void = () => {}
  onclose: (event: { code: number }) => void = () => {}

  constructor(readonly url: string) {
    Socket.all.push(this)
  }

  send(text: string) {
    this.sent.push(JSON.parse(text) as Message)
  }

  close() {
    this.readyState = 3
  }

  says(message: Message) {
    this.onmessage({ data: JSON.stringify(message) })
  }

  /** Values of one channel, engine and twin alike, from a frame on. */
  values(watch: number, first: number, rows: number[], past = false) {
    const head = new Float64Array([past ? 1 : 0, watch, first, 1, rows.length, rows.length])
    const bytes = new Uint8Array(48 + rows.length * 8)
    bytes.set(new Uint8Array(head.buffer))
    bytes.set(new Uint8Array(new Float32Array([...rows, ...rows]).buffer), 48)
    this.onmessage({ data: bytes.buffer })
  }

  opens(frame = 0, condition: string | null = null) {
    this.readyState = Socket.OPEN
    const now = { frame, condition, condition_label: condition, values: {}, twin: {} }
    this.says({
      opened: {
        ...{ rig: 'R1', cover: null, frame, events: [], vehicle: { key: 'on' }, codes: { codes: [] }, now, pace: 1 },
        ...{ marks: { substitutes: [], parted: [] }, bands: [], quantities: {} },
      },
    })
  }

  breaks(code = 1006) {
    this.readyState = 3
    this.onclose({ code })
  }

  asked(what: string): Message[] {
    return this.sent.filter((message) => what in message)
  }
}

describe('the line to a running bench', () => {
  let page: VueWrapper
  let line: Line
  const bench = ref<number | undefined>(7)
  const channels = ref(['rpm'])

  beforeEach(() => {
    vi.useFakeTimers()
    vi.stubGlobal('WebSocket', Socket)
    Socket.all = []
    bench.value = 7
    channels.value = ['rpm']
    page = mount(
      defineComponent({
        setup() {
          line = useLine(bench, channels)
          return () => null
        },
      }),
    )
  })
  afterEach(() => {
    page.unmount()
    vi.unstubAllGlobals()
    vi.useRealTimers()
  })

  /** The watch number that the page has asked for last. */
  const watched = () => Socket.last.asked('watch').at(-1)?.number as number

  it('comes back by itself and says how far it has seen', () => {
    Socket.last.opens()
    Socket.last.values(watched(), 0, [700, 710, 720])
    Socket.last.breaks()
    expect(line.state.connected).toBe(false)
    vi.advanceTimersByTime(200)
    expect(Socket.all).toHaveLength(2)
    expect(Socket.last.url).toContain('/ws/benches/7?seen=3')
    Socket.last.opens(3)
    expect(line.state.connected).toBe(true)
  })

  it('waits longer each time that nobody answers, but never gives up', () => {
    for (const pause of [200, 500, 1000, 2000, 4000, 4000]) {
      const before = Socket.all.length
      Socket.last.breaks()
      vi.advanceTimersByTime(pause - 1)
      expect(Socket.all).toHaveLength(before)
      vi.advanceTimersByTime(1)
      expect(Socket.all).toHaveLength(before + 1)
    }
  })

  it.each([4401, 4403, 4404])('stays away once the server has closed it for good (%i)', (code) => {
    Socket.last.opens()
    Socket.last.says({ closed: { message: 'This bench was closed.' } })
    Socket.last.breaks(code)
    vi.advanceTimersByTime(60_000)
    expect(Socket.all).toHaveLength(1)
    expect(line.state.ended).toBe('This bench was closed.')
  })

  it('sends what was not acknowledged again, as the same act, and what was acknowledged never', async () => {
    Socket.last.opens()
    const kept = line.act({ do: 'turn_key', to: 'on' })
    void line.act({ do: 'close_hose', hose: 'purge hose' })
    const [first, second] = Socket.last.asked('do')
    Socket.last.says({ done: first?.id })
    expect(await kept).toBe('')
    Socket.last.breaks()
    vi.advanceTimersByTime(200)
    Socket.last.opens()
    expect(Socket.last.asked('do')).toEqual([second])
  })

  it('keeps what was done while the line was down until it is up', () => {
    Socket.last.opens()
    Socket.last.breaks()
    void line.act({ do: 'turn_key', to: 'off' })
    vi.advanceTimersByTime(200)
    Socket.last.opens()
    expect(Socket.last.asked('do').map((message) => message.do)).toEqual([{ do: 'turn_key', to: 'off' }])
  })

  it('says why something was refused, until the next is done', async () => {
    Socket.last.opens()
    const refused = line.act({ do: 'disconnect_battery' })
    Socket.last.says({ working: { do: 'disconnect_battery' } })
    Socket.last.says({ refused: Socket.last.asked('do')[0]?.id, message: 'Turn the key off first.' })
    expect(await refused).toBe('Turn the key off first.')
    expect(line.state.problem).toBe('Turn the key off first.')
    expect(line.state.working).toBe('')
    void line.act({ do: 'turn_key', to: 'off' })
    expect(line.state.problem).toBe('')
  })

  it('asks a question again that was under way when the line broke', async () => {
    Socket.last.opens()
    const use = { instrument: 'multimeter', place: 'battery', condition: 'koeo', options: {}, seed: 0 }
    const answer = line.measure(use)
    const [asked] = Socket.last.asked('measure')
    Socket.last.breaks()
    vi.advanceTimersByTime(200)
    Socket.last.opens()
    expect(Socket.last.asked('measure')).toEqual([asked])
    Socket.last.says({ measured: asked?.id, observation: { instrument: 'multimeter' } })
    expect((await answer).instrument).toBe('multimeter')
  })

  it('tells who asked, and nobody else, that a measurement was refused', async () => {
    Socket.last.opens()
    const answer = line.circuit('map')
    Socket.last.says({ refused: Socket.last.asked('circuit')[0]?.id, message: 'There is no such circuit.' })
    await expect(answer).rejects.toThrow('There is no such circuit.')
    expect(line.state.problem).toBe('')
  })

  it('begins anew when other channels are watched: values of the former ones are not taken for theirs', async () => {
    Socket.last.opens()
    const former = watched()
    channels.value = ['maf']
    await nextTick()
    expect(Socket.last.asked('watch').at(-1)?.watch).toEqual(['maf'])
    Socket.last.values(former, 5, [700])
    Socket.last.values(watched(), 0, [2.5], true)
    expect(line.series.value.length).toBe(1)
    expect(line.series.value.at(99).get('maf')).toEqual([2.5, 2.5])
  })

  it('shows the past and what ran meanwhile in one piece, each instant once', () => {
    Socket.last.opens(4)
    Socket.last.values(watched(), 4, [740, 750])
    Socket.last.values(watched(), 0, [700, 710, 720, 730, 740], true)
    expect(line.series.value.length).toBe(6)
    expect([0.01, 0.03, 0.05, 0.06].map((time) => line.series.value.at(time).get('rpm')?.[0])).toEqual([
      700, 720, 740, 750,
    ])
  })

  it('puts the last minute row by row in the place of its few points, without losing what runs', () => {
    Socket.last.opens(6)
    Socket.last.values(watched(), 0, [700, 710, 720, 730, 740, 750], true)
    expect(Socket.last.asked('past').at(-1)?.past).toEqual({ first: 0, last: 6, points: 4000 })
    Socket.last.values(watched(), 6, [760])
    Socket.last.values(watched(), 2, [721, 731, 741, 751], true)
    Socket.last.values(watched(), 7, [770])
    const rows = [1, 2, 3, 4, 5, 6, 7, 8].map((frame) => line.series.value.at(frame / 100).get('rpm')?.[0])
    expect(rows).toEqual([700, 710, 721, 731, 741, 751, 760, 770])
    expect(line.series.value.length).toBe(8)
  })

  it('keeps a condition as one spell as long as it goes on', () => {
    Socket.last.opens(0, 'koeo')
    const tells = (frame: number, condition: string | null) =>
      Socket.last.says({ now: { frame, condition, condition_label: condition, values: {}, twin: {} } })
    tells(50, 'koeo')
    tells(100, 'koeo')
    tells(150, null)
    tells(200, 'hot_idle')
    expect(line.spells.value.map(({ condition, start, end }) => [condition, start, end])).toEqual([
      ['koeo', 0, 1],
      ['hot_idle', 2, 2],
    ])
  })

  it('asks for verdicts in a named condition only, and not while time stands still', () => {
    Socket.last.opens(0)
    vi.advanceTimersByTime(6000)
    expect(Socket.last.asked('judge')).toEqual([])
    Socket.last.says({ now: { frame: 1, condition: 'hot_idle', condition_label: 'hot idle', values: {}, twin: {} } })
    vi.advanceTimersByTime(3000)
    expect(Socket.last.asked('judge')[0]).toEqual({ judge: ['rpm'] })
    const before = Socket.last.asked('judge').length
    line.setPace(0)
    vi.advanceTimersByTime(6000)
    expect(Socket.last.asked('judge')).toHaveLength(before)
  })

  it('leaves nothing of one bench on another', async () => {
    Socket.last.opens(0, 'hot_idle')
    Socket.last.values(watched(), 0, [700], true)
    void line.act({ do: 'turn_key', to: 'off' })
    bench.value = 8
    await nextTick()
    expect(Socket.all[0]?.readyState).toBe(3)
    expect(Socket.last.url).toContain('/ws/benches/8?seen=0')
    expect(line.series.value.length + line.spells.value.length + line.events.value.length).toBe(0)
    Socket.last.opens()
    expect(Socket.last.asked('do')).toEqual([])
  })
})
