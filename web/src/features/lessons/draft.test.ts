// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'
import { useDraft, type Lesson } from '@/features/lessons/draft'
import { stopClocks } from '@/testing/hooks'
import { quiet, refusal, serve, type Answers, type Asked } from '@/testing/server'

const KEPT = 'leitfaden.draft.7'

function lesson(title: string, second = 'Trim'): Lesson {
  const stations = [
    { id: 'a', kind: 'text', title: 'Why', text: '' },
    { id: 'b', kind: 'text', title: second, text: '' },
  ]
  return { title, rig: 'R1', script: 'workshop_day', faults: [], stations } as unknown as Lesson
}

/** The lesson as the server keeps it; a change must name the revision that it was made from. */
let server: { draft: Lesson; revision: number; by: string; refuse: Response[] }
let asked: Asked[]
let scope: EffectScope

function told() {
  const { draft, revision, by } = server
  return { draft, revision, version: 2, changed_since_version: true, updated_by: by }
}

const ANSWERS: Answers = {
  'GET /api/lessons/7': () => told(),
  'PUT /api/lessons/7/draft': ({ body }: Asked) => {
    const refused = server.refuse.shift()
    if (refused) return refused
    const sent = body as { revision: number; document: Lesson }
    if (sent.revision !== server.revision) return refusal(409, 'conflict', 'somebody else has changed it')
    Object.assign(server, { draft: sent.document, revision: server.revision + 1 })
    return told()
  },
}

async function opened() {
  scope = effectScope()
  const draft = scope.run(() => useDraft('7'))!
  await quiet()
  return draft
}
const puts = () => asked.filter((one) => one.method === 'PUT')
const sent = (k: number) => (puts().at(k)?.body as { document: Lesson } | undefined)?.document

/** The hand rests for so long. [ms] */
async function rest(ms = 700) {
  await vi.advanceTimersByTimeAsync(ms)
  await quiet()
}

stopClocks()
beforeEach(() => {
  localStorage.clear()
  server = { draft: lesson('A leak'), revision: 4, by: 'Brandt', refuse: [] }
  asked = serve(ANSWERS)
})
afterEach(() => {
  scope.stop()
  vi.unstubAllGlobals()
  localStorage.clear()
})

describe('a draft that saves itself', () => {
  it('is on this device at once, and with the server when the hand rests', async () => {
    const { document, state } = await opened()
    document.value!.title = 'A leak behind the throttle'
    await quiet()
    expect(state.value).toBe('unsaved')
    expect(localStorage.getItem(KEPT)).toContain('A leak behind the throttle')
    expect(puts()).toEqual([])
    await rest()
    expect(state.value).toBe('saved')
    expect(server.draft.title).toBe('A leak behind the throttle')
    expect(localStorage.getItem(KEPT)).toBeNull()
  })

  it('is sent once for what is typed in one go', async () => {
    const { document } = await opened()
    for (const title of ['A', 'Ai', 'Air']) {
      document.value!.title = title
      await rest(200)
    }
    await rest()
    expect(puts()).toHaveLength(1)
    expect(sent(0)?.title).toBe('Air')
  })

  it('names the revision that each change was made from', async () => {
    const { document } = await opened()
    document.value!.title = 'one'
    await rest()
    document.value!.title = 'two'
    await rest()
    expect(puts().map((one) => (one.body as { revision: number }).revision)).toEqual([4, 5])
  })

  it('is tried again by itself, under the same id, until a server in trouble takes it', async () => {
    const { document, state, problem } = await opened()
    server.refuse = [refusal(503, 'busy', 'the server restarts'), refusal(503, 'busy', 'the server restarts')]
    document.value!.title = 'kept'
    await rest()
    expect(problem.value).toBe('The server restarts')
    expect(state.value).toBe('unsaved')
    expect(localStorage.getItem(KEPT)).toContain('kept')
    await rest(1100)
    await rest(2100)
    expect(state.value).toBe('saved')
    expect(problem.value).toBe('')
    expect(puts()).toHaveLength(3)
    expect(new Set(puts().map((one) => one.change)).size).toBe(1)
  })

  it('says why it was refused, stays on the device, and is sent again when it is another one', async () => {
    const { document, problem, state } = await opened()
    server.refuse = [refusal(422, 'bad_lesson', 'station 2 asks for a signal that this engine does not have')]
    document.value!.title = 'wrong'
    await rest()
    expect(problem.value).toMatch(/^Station 2 asks/)
    expect(state.value).toBe('unsaved')
    expect(localStorage.getItem(KEPT)).toContain('wrong')
    await rest(20_000)
    expect(puts()).toHaveLength(1)
    document.value!.title = 'right'
    await rest()
    expect(server.draft.title).toBe('right')
    expect(problem.value).toBe('')
  })

  it('sends what was typed while it was on its way', async () => {
    const { document, state } = await opened()
    document.value!.title = 'first'
    await vi.advanceTimersByTimeAsync(601)
    document.value!.title = 'second'
    await quiet()
    expect(sent(0)?.title).toBe('first')
    await rest()
    expect(server.draft.title).toBe('second')
    expect(state.value).toBe('saved')
  })

  it('asks nothing of the server when a change was undone to what it has', async () => {
    const { document, history, state } = await opened()
    document.value!.title = 'other'
    await quiet()
    history.undo()
    await quiet()
    expect(state.value).toBe('saved')
    expect(localStorage.getItem(KEPT)).toBeNull()
    await rest()
    expect(puts()).toEqual([])
  })

  it('comes back after the page was lost, and is saved then', async () => {
    localStorage.setItem(KEPT, JSON.stringify(lesson('Typed before the power failed')))
    const { document, restored, state } = await opened()
    expect(document.value?.title).toBe('Typed before the power failed')
    await rest()
    expect(server.draft.title).toBe('Typed before the power failed')
    expect(state.value).toBe('saved')
    expect(restored.value).toBe(false)
  })

  it('is saved when the page is left before the hand has rested', async () => {
    const { document } = await opened()
    document.value!.title = 'last word'
    await quiet()
    scope.stop()
    await quiet()
    expect(server.draft.title).toBe('last word')
  })

  it('says in a sentence that the lesson could not be fetched', async () => {
    serve({ 'GET /api/lessons/7': refusal(404, 'not_found', 'this lesson is not there any more') })
    const { document, problem } = await opened()
    expect(document.value).toBeUndefined()
    expect(problem.value).toBe('This lesson is not there any more')
  })
})

describe('two hands at one draft', () => {
  /** Somebody else has saved meanwhile. */
  function theirs(draft: Lesson) {
    Object.assign(server, { draft, revision: server.revision + 1, by: 'Albrecht' })
  }

  it('both stand in it where they touched different parts', async () => {
    const { document, joined, clashes, state } = await opened()
    theirs(lesson('A leak', 'Trims'))
    document.value!.title = 'A leak, found'
    await rest()
    expect(server.draft).toEqual(lesson('A leak, found', 'Trims'))
    expect(document.value).toEqual(server.draft)
    expect(joined.value).toBe('Albrecht')
    expect(clashes.value).toEqual([])
    expect(state.value).toBe('saved')
  })

  it('the one who comes later is asked where both touched the same station; nothing is saved before', async () => {
    const { document, clashes, settle } = await opened()
    theirs(lesson('A leak', 'Their trims'))
    document.value!.stations[1]!.title = 'My trims'
    await rest()
    expect(clashes.value).toHaveLength(1)
    expect(server.draft).toEqual(lesson('A leak', 'Their trims'))
    document.value!.title = 'Typed meanwhile'
    await rest(5000)
    expect(server.draft.title).toBe('A leak')
    await settle(clashes.value[0]!, true)
    await quiet()
    expect(server.draft).toEqual(lesson('Typed meanwhile', 'My trims'))
  })

  it('theirs takes the place of mine when I say so', async () => {
    const { document, clashes, settle } = await opened()
    theirs(lesson('A leak', 'Their trims'))
    document.value!.stations[1]!.title = 'My trims'
    document.value!.title = 'Mine'
    await rest()
    await settle(clashes.value[0]!, false)
    await quiet()
    await rest()
    expect(document.value).toEqual(lesson('Mine', 'Their trims'))
    expect(server.draft).toEqual(document.value)
  })

  it('undo takes back my part and leaves theirs', async () => {
    const { document, history } = await opened()
    theirs(lesson('A leak', 'Trims'))
    document.value!.title = 'Mine'
    await rest()
    history.undo()
    await rest()
    expect(server.draft).toEqual(lesson('A leak', 'Trims'))
  })
})
