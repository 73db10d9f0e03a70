import { computed, ref, type Ref } from 'vue'

/** Steps that are kept, and how long a hand may type on before a new step begins. [ms] */
const DEPTH = 40
const ONE_STEP = 1200

interface Kept {
  past: string[]
  future: string[]
}

/**
 * Undo and redo over a document, kept on this device so that they survive a reload. A step is a document as text; what is typed in one
 * go, without a change of its `shape`, is one step.
 */
export function useHistory<T>(
  document: Ref<T | undefined>,
  keptUnder: string,
  shape: (document: T) => string,
  now: () => number = () => Date.now(),
) {
  const steps = ref<Kept>(read(keptUnder))
  let present: string | undefined
  let last = 0

  /** Take note of the document as it is now: after it was loaded, and after every change. */
  function note() {
    if (!document.value) return
    const text = JSON.stringify(document.value)
    if (present === undefined || text === present) {
      present = text
      return
    }
    const same = shape(JSON.parse(present) as T) === shape(document.value)
    const together = same && now() - last < ONE_STEP && steps.value.past.length > 0
    if (!together) steps.value.past = [...steps.value.past, present].slice(-DEPTH)
    steps.value.future = []
    last = same ? now() : 0
    present = text
    keep()
  }

  function go(from: 'past' | 'future', to: 'past' | 'future') {
    const text = steps.value[from].at(-1)
    if (text === undefined || present === undefined) return
    steps.value[from] = steps.value[from].slice(0, -1)
    steps.value[to] = [...steps.value[to], present].slice(-DEPTH)
    present = text
    last = 0
    document.value = JSON.parse(text) as T
    keep()
  }

  /**
   * What comes next is a step of its own, and all that was done, the present included, is put on top of what somebody else has done
   * meanwhile: to undo takes back what was done here, never what the other did.
   */
  function rebase(onto: (kept: T) => T) {
    const moved = (text: string) => JSON.stringify(onto(JSON.parse(text) as T))
    steps.value = { past: steps.value.past.map(moved), future: steps.value.future.map(moved) }
    if (present !== undefined) present = moved(present)
    last = 0
    keep()
  }

  function keep() {
    try {
      localStorage.setItem(keptUnder, JSON.stringify(steps.value))
    } catch {
      // The device is full: the older half goes.
      steps.value = { past: steps.value.past.slice(-DEPTH / 4), future: [] }
      localStorage.removeItem(keptUnder)
    }
  }

  return {
    note,
    rebase,
    undo: () => go('past', 'future'),
    redo: () => go('future', 'past'),
    canUndo: computed(() => steps.value.past.length > 0),
    canRedo: computed(() => steps.value.future.length > 0),
  }
}

function read(keptUnder: string): Kept {
  try {
    const kept = JSON.parse(localStorage.getItem(keptUnder) ?? '') as Kept
    return Array.isArray(kept.past) && Array.isArray(kept.future) ? kept : { past: [], future: [] }
  } catch {
    return { past: [], future: [] }
  }
}
