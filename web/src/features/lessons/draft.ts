import { onScopeDispose, ref, watch } from 'vue'
import { useHistory } from '@/features/lessons/history'
import { merged, withTheirs, type Clash } from '@/features/lessons/merge'
import { ApiError, client, newChangeId, sentence, unwrap, type Schemas } from '@/api/client'

export type Lesson = Schemas['Lesson']
export type SaveState = 'saved' | 'saving' | 'unsaved'

const QUIET = 600
/** Pauses between tries to save what the server could not take; the last one stays. [ms] */
const RETRIES = [1000, 2000, 4000, 8000, 15_000]

/** Where an unsaved draft waits on this device. */
function keptUnder(id: string): string {
  return `leitfaden.draft.${id}`
}

/**
 * A lesson's draft that saves itself. A change goes to this device at once and to the server when the hand rests; what the server
 * refuses or does not receive stays on the screen and on the device. Where somebody else has changed the draft meanwhile, both are put
 * together; saving waits while a station has to be chosen.
 */
export function useDraft(id: string) {
  const document = ref<Lesson>()
  const published = ref<{ version: number | null; changed: boolean }>({ version: null, changed: true })
  const state = ref<SaveState>('saved')
  const problem = ref('')
  const clashes = ref<Clash[]>([])
  const joined = ref('')
  const history = useHistory(document, `leitfaden.history.${id}`, (lesson) =>
    lesson.stations.map((station) => station.id).join(),
  )
  const restored = ref(false)
  let revision = 1
  let stored = ''
  let timer: ReturnType<typeof setTimeout> | undefined
  /** The change that is on its way, with its id: sent again as it was until the server has answered it. */
  let change: { text: string; id: string; revision: number } | undefined
  let failures = 0
  let theirs: Lesson | undefined

  function take(lesson: Pick<Schemas['LessonOut'], 'revision' | 'version' | 'changed_since_version'>) {
    revision = lesson.revision
    published.value = { version: lesson.version, changed: lesson.changed_since_version }
  }

  const fetched = () => unwrap(client.GET('/api/lessons/{lesson_id}', { params: { path: { lesson_id: Number(id) } } }))

  async function load() {
    problem.value = ''
    try {
      const lesson = await fetched()
      take(lesson)
      stored = JSON.stringify(lesson.draft)
      const kept = localStorage.getItem(keptUnder(id))
      restored.value = kept !== null && kept !== stored
      document.value = restored.value && kept ? (JSON.parse(kept) as Lesson) : (lesson.draft as Lesson)
      if (!restored.value) localStorage.removeItem(keptUnder(id))
      history.note()
    } catch (error) {
      problem.value = sentence(error)
    }
  }

  async function save() {
    clearTimeout(timer)
    if (!document.value || state.value === 'saving' || clashes.value.length) return
    const wanted = JSON.stringify(document.value)
    if (!change && wanted === stored) {
      state.value = 'saved'
      problem.value = ''
      return
    }
    state.value = 'saving'
    // What is on its way goes first, as it was: the server may have it already, and then says so.
    change ??= { text: wanted, id: newChangeId(), revision }
    try {
      const sent = change
      const lesson = await unwrap(
        client.PUT('/api/lessons/{lesson_id}/draft', {
          params: { path: { lesson_id: Number(id) } },
          body: { revision: sent.revision, document: JSON.parse(sent.text) as Record<string, unknown> },
          headers: { 'X-Change-Id': sent.id },
        }),
      )
      take(lesson)
      change = undefined
      failures = 0
      stored = sent.text
      problem.value = ''
      restored.value = false
      if (JSON.stringify(document.value) === stored) {
        state.value = 'saved'
        localStorage.removeItem(keptUnder(id))
      } else {
        state.value = 'unsaved'
        timer = setTimeout(save, QUIET)
      }
    } catch (error) {
      state.value = 'unsaved'
      if (error instanceof ApiError && error.status === 409 && error.code === 'conflict') {
        change = undefined
        await join()
        return
      }
      problem.value = sentence(error)
      if (error instanceof ApiError && error.passing) {
        timer = setTimeout(save, RETRIES[Math.min(failures, RETRIES.length - 1)])
        failures += 1
        return
      }
      const refused = change?.text
      change = undefined
      if (JSON.stringify(document.value) !== refused) timer = setTimeout(save, QUIET)
    }
  }

  /** Put my draft together with what somebody else has stored meanwhile. */
  async function join() {
    if (!document.value) return
    try {
      const lesson = await fetched()
      take(lesson)
      theirs = lesson.draft as Lesson
      const [base, other] = [JSON.parse(stored) as Lesson, theirs]
      const both = merged(base, document.value, other)
      history.rebase((kept) => merged(base, kept, other).lesson)
      stored = JSON.stringify(theirs)
      clashes.value = both.clashes
      joined.value = lesson.updated_by
      document.value = both.lesson
      problem.value = ''
      if (!both.clashes.length) await save()
    } catch (error) {
      problem.value = sentence(error)
    }
  }

  /** One clash is settled: my version stays, or theirs takes its place. */
  async function settle(clash: Clash, mine: boolean) {
    history.rebase((kept) => kept)
    if (!mine && theirs && document.value) document.value = withTheirs(document.value, theirs, clash)
    clashes.value = clashes.value.filter((entry) => entry !== clash)
    if (!clashes.value.length) await save()
  }

  watch(
    document,
    (next, before) => {
      if (!next || before === undefined) {
        if (next && restored.value) void save()
        return
      }
      history.note()
      const text = JSON.stringify(next)
      if (text === stored) {
        // Undone to what the server has: nothing waits any more.
        clearTimeout(timer)
        if (state.value === 'unsaved' && !change) state.value = 'saved'
        localStorage.removeItem(keptUnder(id))
        return
      }
      localStorage.setItem(keptUnder(id), text)
      if (state.value !== 'saving') state.value = 'unsaved'
      clearTimeout(timer)
      timer = setTimeout(save, QUIET)
    },
    { deep: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    if (state.value === 'unsaved') void save()
  })

  void load()
  return { document, published, state, problem, clashes, joined, restored, save, settle, history }
}
