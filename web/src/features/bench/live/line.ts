import { computed, onBeforeUnmount, reactive, ref, shallowRef, triggerRef, watch, type Ref } from 'vue'
import { newChangeId, type Schemas } from '@/api/client'
import { FRAME, readBlock, Series } from '@/features/bench/live/series'

/** What can be done on a bench: `do` names it, the rest are its parts (leitfaden_core.live.doings). */
export type Doing = { do: string } & Record<string, unknown>

export interface Happened {
  frame: number
  doing: Doing
  words: string
}

export interface Vehicle {
  key: 'off' | 'on' | 'start'
  foot: 'pedal' | 'speed' | 'load' | 'snap'
  target: number
  roller: { speed: number; ratio: number } | null
  time_lapse: number
  faults: { name: string; fault: Schemas['FaultSpec']; since: number }[]
  unplugged: string[]
  closed: string[]
  parts: string[]
  held: Record<string, number>
  consumers: { lights: boolean; air_conditioning: boolean }
  charger: boolean
  /** Hours since the engine last ran. */
  stood_h: number
  weather: { temp_C: number; baro_kPa: number }
}

export interface Now {
  frame: number
  condition: string | null
  condition_label: string | null
  values: Record<string, number | null>
  /** The same of the undisturbed twin. */
  twin: Record<string, number | null>
  pace?: number
  reached?: number
}

/** What stands out on the thread. */
export interface Marks {
  /** Channels whose display the control unit makes up. */
  substitutes: string[]
  /** Sensors whose display parts from the truth. */
  parted: string[]
}

export interface Codes {
  lamp: boolean
  codes: {
    code: string
    meaning: string
    status: 'pending' | 'confirmed'
    seconds: number
    drive: number
    origin: 'vehicle' | 'unplugging'
    freeze_frame: Record<string, number>
  }[]
  readiness: Record<string, 'complete' | 'incomplete'>
}

/** A wire of a circuit: its joints from the source on, with the volts against battery minus; null where they are to be
 * measured. */
export interface Wire {
  role: string
  joints: { name: string; volts: number | null; label: string }[]
}

/** An instrument put to a place, in a state of the engine. */
export interface Use {
  instrument: string
  place: string
  condition: string
  options: Record<string, string>
  seed: number
}

/** What came of using an instrument (leitfaden_core.instruments). */
export interface Observation {
  instrument: string
  place: string
  condition: string
  shown: {
    id: string
    label: string
    value: number | null
    quantity: string
    unit: string
    text: string
    step: number
    /** What it shows on the undisturbed twin, where the running engine itself is read: to be given back unread. */
    sealed: string
  }[]
  traces: { id: string; label: string; quantity: string; seconds: number[]; values: (number | null)[] }[]
  minutes: number
  cautions: string[]
  notes: string[]
  changes: string[]
  refused: string
}

/** What may be touched on an engine that keeps its secret (leitfaden_core.live.Cover). */
export interface Cover {
  hands: string[]
  instruments: string[]
}

interface Opened {
  rig: string
  cover: Cover | null
  frame: number
  events: Happened[]
  vehicle: Vehicle
  codes: Codes
  now: Now
  marks: Marks
  pace: number
  bands: Schemas['BandOut'][]
  quantities: Record<string, string>
}

/** A stretch of time in a named condition, as far as it was seen here. [s] */
export interface Spell {
  condition: string
  label: string
  start: number
  end: number
}

/** How many points stand for all that was. */
const WHOLE = 4000
/** Points in memory beyond which the older ones are asked for again in fewer. */
const MOST_POINTS = 150_000
/** Frames that are asked for row by row when somebody begins to watch. */
const RECENT = 6000
/** Verdicts are asked for so often. [ms] */
const JUDGED_EVERY = 2500
/** Codes with which the server closes a line for good. */
const FOR_GOOD = [4401, 4403, 4404]
const PAUSES = [200, 500, 1000, 2000, 4000]

/** The line to a running bench: comes back by itself, and nothing that was acknowledged is lost. */
export function useLine(bench: Ref<number | undefined>, channels: Ref<string[]>) {
  const state = reactive({
    connected: false,
    ended: '',
    rig: '',
    working: '',
    problem: '',
    pace: 1,
    frame: 0,
  })
  const vehicle = shallowRef<Vehicle>()
  const cover = shallowRef<Cover | null>(null)
  const codes = shallowRef<Codes>()
  const now = shallowRef<Now>()
  const marks = shallowRef<Marks>({ substitutes: [], parted: [] })
  const events = shallowRef<Happened[]>([])
  const bands = shallowRef<Schemas['BandOut'][]>([])
  const quantities = shallowRef<Record<string, string>>({})
  const spells = shallowRef<Spell[]>([])
  const readings = shallowRef<Schemas['ReadingOut'][]>([])
  const series = shallowRef(new Series([]))
  const detail = shallowRef<Series>()
  /** Rises with every block, for those who draw. */
  const beat = ref(0)

  let socket: WebSocket | undefined
  let tries = 0
  let timer: number | undefined
  let number = 0
  let wanted: 'whole' | 'recent' | 'detail' = 'whole'
  /** What runs meanwhile, while the past is on its way. */
  let fresh = new Series([])
  /** Questions on the line that wait for their answers. */
  const measuring = new Map<
    string,
    { question: Record<string, unknown>; done: (seen: never) => void; failed: (reason: Error) => void }
  >()
  const waiting = new Map<string, { doing: Doing; done: (refused: string) => void }>()

  function connect() {
    if (!bench.value) return
    const scheme = location.protocol === 'https:' ? 'wss' : 'ws'
    const opened = new WebSocket(`${scheme}://${location.host}/ws/benches/${bench.value}?seen=${state.frame}`)
    opened.binaryType = 'arraybuffer'
    opened.onmessage = (event) => {
      if (opened !== socket) return
      if (typeof event.data === 'string') heard(JSON.parse(event.data))
      else values(event.data)
    }
    opened.onclose = (event) => {
      if (opened !== socket) return
      state.connected = false
      if (FOR_GOOD.includes(event.code)) return
      timer = window.setTimeout(connect, PAUSES[Math.min(tries, PAUSES.length - 1)])
      tries += 1
    }
    socket = opened
  }

  function send(message: unknown): boolean {
    if (socket?.readyState !== WebSocket.OPEN) return false
    socket.send(JSON.stringify(message))
    return true
  }

  function heard(message: Record<string, unknown>) {
    if ('now' in message) takeNow(message.now as Now)
    if ('opened' in message) begin(message.opened as Opened)
    if ('marks' in message) marks.value = message.marks as Marks
    if ('judged' in message) readings.value = (message.judged as { readings: Schemas['ReadingOut'][] }).readings
    if ('codes' in message) codes.value = message.codes as Codes
    if ('vehicle' in message) vehicle.value = message.vehicle as Vehicle
    if ('event' in message) {
      events.value = [...events.value, message.event as Happened]
      state.working = ''
    }
    if ('working' in message) state.working = (message.working as { do: string }).do
    if ('pace' in message) state.pace = message.pace as number
    if ('measured' in message) answered(message.measured as string, message.observation)
    if ('circuit' in message) answered(message.circuit as string, message.wires)
    if ('done' in message) settle(message.done as string, '')
    if ('refused' in message && measuring.has(message.refused as string)) {
      measuring.get(message.refused as string)?.failed(new Error(message.message as string))
      measuring.delete(message.refused as string)
    } else if ('refused' in message) {
      state.working = ''
      settle(message.refused as string, message.message as string)
    }
    for (const name of ['wrong', 'stopped', 'dropped'] as const)
      if (name in message) state.problem = (message[name] as { message: string }).message
    if ('closed' in message) state.ended = (message.closed as { message: string }).message
  }

  function answered(id: string, answer: unknown) {
    measuring.get(id)?.done(answer as never)
    measuring.delete(id)
  }

  function settle(id: string, refused: string) {
    const asked = waiting.get(id)
    waiting.delete(id)
    asked?.done(refused)
  }

  function takeNow(next: Now) {
    now.value = next
    if (!next.condition) readings.value = []
    takeSpell(next)
    if (next.pace !== undefined) state.pace = next.pace
  }

  /** Conditions follow each other as they are told; the same one goes on. */
  function takeSpell(next: Now) {
    const time = next.frame * FRAME
    const last = spells.value.at(-1)
    if (last && last.condition === next.condition && time - last.end < 2) {
      last.end = time
      return
    }
    if (next.condition)
      spells.value = [
        ...spells.value.slice(-200),
        { condition: next.condition, label: next.condition_label ?? '', start: time, end: time },
      ]
  }

  function begin(opened: Opened) {
    for (const [id, { question }] of measuring) send({ id, ...question })
    state.connected = true
    state.rig = opened.rig
    cover.value = opened.cover
    state.frame = opened.frame
    tries = 0
    events.value = opened.events
    vehicle.value = opened.vehicle
    codes.value = opened.codes
    bands.value = opened.bands
    quantities.value = opened.quantities
    marks.value = opened.marks
    takeNow(opened.now)
    state.pace = opened.pace
    watchChannels()
    // What was sent and not answered goes again, with the same id: it is done once.
    for (const [id, { doing }] of waiting) send({ id, do: doing })
  }

  function watchChannels() {
    if (!state.connected) return
    number += 1
    fresh = new Series(channels.value)
    detail.value = undefined
    if (!send({ watch: channels.value, number })) return
    askWhole()
  }

  function askWhole() {
    wanted = 'whole'
    send({ past: { first: 0, last: 2 ** 31 - 1, points: WHOLE } })
  }

  /** The last minute row by row: it is what is looked at first. */
  function askRecent(end: number) {
    wanted = 'recent'
    send({ past: { first: Math.max(end - RECENT, 0), last: end, points: 4000 } })
  }

  /** Ask for verdicts on what is watched, in the condition that the engine is in. */
  function judge() {
    if (cover.value && !bands.value.length) return // values are closed to them; the station has said so
    if (now.value?.condition) send({ judge: channels.value })
  }

  /** Ask for a stretch in more points than the whole has. */
  function askDetail(from: number, to: number) {
    wanted = 'detail'
    send({ past: { first: Math.floor(from / FRAME), last: Math.ceil(to / FRAME), points: 2400 } })
  }

  function values(data: ArrayBuffer) {
    const block = readBlock(data)
    if (block.watch !== number) return
    if (block.past) {
      const got = new Series(channels.value)
      got.append(block)
      if (wanted === 'detail') {
        detail.value = got
        beat.value += 1
        return
      }
      if (wanted === 'recent') {
        const joined = series.value.upTo(block.first * FRAME)
        joined.appendAfter(got, block.first * FRAME)
        joined.appendAfter(fresh, got.end * FRAME)
        fresh = series.value = joined
      } else {
        got.appendAfter(fresh, got.end * FRAME)
        fresh = series.value = got
        askRecent(block.first + block.frames)
      }
    } else {
      if (fresh.end && block.first > fresh.end && wanted === 'whole' && fresh === series.value) askWhole()
      fresh.append(block)
      state.frame = block.first + block.frames
      if (fresh.length > MOST_POINTS) watchChannels()
    }
    if (fresh === series.value) triggerRef(series)
    beat.value += 1
  }

  /** Do something; resolves with why it was refused, or with nothing once it is kept. */
  function act(doing: Doing): Promise<string> {
    const id = newChangeId()
    state.problem = ''
    return new Promise((resolve) => {
      waiting.set(id, {
        doing,
        done: (refused) => {
          if (refused) state.problem = refused
          resolve(refused)
        },
      })
      send({ id, do: doing })
    })
  }

  /** Put an instrument to the vehicle as it is. */
  const measure = (wish: Use) => ask<Observation>({ measure: wish })
  /** The wires of a sensor, joint after joint, now. */
  const circuit = (wire: string) => ask<Wire[]>({ circuit: wire })

  /** A question only reads: what was not answered when the line was lost is asked again once it is back. */
  function ask<Answer>(question: Record<string, unknown>): Promise<Answer> {
    const id = newChangeId()
    return new Promise((done, failed) => {
      measuring.set(id, { question, done, failed })
      send({ id, ...question })
    })
  }

  function setPace(pace: number) {
    state.pace = pace
    send({ pace })
  }

  function leave() {
    window.clearTimeout(timer)
    const old = socket
    socket = undefined
    old?.close()
    state.connected = false
  }

  watch(
    bench,
    () => {
      leave()
      Object.assign(state, { ended: '', problem: '', working: '', frame: 0, rig: '' })
      waiting.clear()
      measuring.clear()
      events.value = spells.value = readings.value = []
      vehicle.value = codes.value = now.value = undefined
      series.value = new Series([])
      connect()
    },
    { immediate: true },
  )
  watch(() => channels.value.join(' '), watchChannels)
  const judging = window.setInterval(() => state.pace > 0 && judge(), JUDGED_EVERY)
  onBeforeUnmount(() => {
    window.clearInterval(judging)
    leave()
  })
  const seconds = computed(() => state.frame * FRAME)
  return {
    ...{
      state,
      vehicle,
      cover,
      codes,
      now,
      marks,
      events,
      series,
      detail,
      beat,
      seconds,
      bands,
      quantities,
      spells,
      readings,
    },
    ...{ act, setPace, askDetail, measure, circuit },
  }
}

export type Line = ReturnType<typeof useLine>
