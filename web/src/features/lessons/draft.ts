import { onScopeDispose, ref, watch } from 'vue'
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
 * refuses or does not receive stays on the screen and on the device.
 */
export function useDraft(id: string) {
  const document = ref<Lesson>()
  const published = ref<{ version: number | null; changed: boolean }>({ version: null, changed: true })
  const state = ref<SaveState>('saved')
  const problem = ref('')
  const conflict = ref(false)
  const restored = ref(false)
  let revision = 1
  let stored = ''
  let timer: ReturnType<typeof setTimeout> | undefined
  /** The change that is on its way, with its id: sent again as it was until the server has answered it. */
  let change: { text: string; id: string; revision: number } | undefined
  let failures = 0

  function take(lesson: Pick<Schemas['LessonOut'], 'revision' | 'version' | 'changed_since_version'>) {
    revision = lesson.revision
    published.value = { version: lesson.version, changed: lesson.changed_since_version }
  }

  async function load(discardMine = false) {
    problem.value = ''
    try {
      const lesson = await unwrap(
        client.GET('/api/lessons/{lesson_id}', { params: { path: { lesson_id: Number(id) } } }),
      )
      take(lesson)
      stored = JSON.stringify(lesson.draft)
      const kept = discardMine ? null : localStorage.getItem(keptUnder(id))
      restored.value = kept !== null && kept !== stored
      conflict.value = false
      document.value = restored.value && kept ? (JSON.parse(kept) as Lesson) : (lesson.draft as Lesson)
      if (!restored.value) localStorage.removeItem(keptUnder(id))
    } catch (error) {
      problem.value = sentence(error)
    }
  }

  async function save() {
    clearTimeout(timer)
    if (!document.value || state.value === 'saving' || conflict.value) return
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
      problem.value = sentence(error)
      conflict.value = error instanceof ApiError && error.status === 409
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

  /** After a conflict: put one's own document on top of what the other has stored. */
  async function keepMine() {
    try {
      const lesson = await unwrap(
        client.GET('/api/lessons/{lesson_id}', { params: { path: { lesson_id: Number(id) } } }),
      )
      take(lesson)
      conflict.value = false
      await save()
    } catch (error) {
      problem.value = sentence(error)
    }
  }

  watch(
    document,
    (next, before) => {
      if (!next || before === undefined) {
        if (next && restored.value) void save()
        return
      }
      const text = JSON.stringify(next)
      if (text === stored) return
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
  return { document, published, state, problem, conflict, restored, load, save, keepMine, take }
}
