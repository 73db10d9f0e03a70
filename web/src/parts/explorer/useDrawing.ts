import { computed, ref, toRaw, watch, type Ref } from 'vue'
import { client, sentence, unwrap, type Schemas } from '@/api/client'

export type Drawing = Schemas['DrawingOut']
export type Shown = Schemas['ShownOut']
export type Hands = Record<string, number | string>

/** A drawing in the hand: each move asks the model, and while it answers only the newest move waits. */
export function useDrawing(drawing: Ref<Drawing | undefined>, start: Ref<Hands | undefined>) {
  const hands = ref<Hands>({})
  const shown = ref<Shown>()
  const problem = ref('')
  let asking = false
  let waiting = false

  async function ask() {
    const asked = drawing.value
    if (!asked) return
    if (asking) {
      waiting = true
      return
    }
    asking = true
    try {
      const answer = await unwrap(
        client.POST('/api/atlas/drawings/{drawing}', {
          params: { path: { drawing: asked.id } },
          body: { hands: toRaw(hands.value) },
        }),
      )
      if (asked.id === drawing.value?.id) shown.value = answer
      problem.value = ''
    } catch (error) {
      problem.value = sentence(error)
    } finally {
      asking = false
      if (waiting) {
        waiting = false
        void ask()
      }
    }
  }

  function set(next: Hands) {
    hands.value = { ...hands.value, ...next }
    void ask()
  }

  watch(
    [() => drawing.value?.id, start],
    () => {
      hands.value = {
        ...Object.fromEntries((drawing.value?.hands ?? []).map((hand) => [hand.id, hand.start])),
        ...start.value,
      }
      shown.value = undefined
      void ask()
    },
    { immediate: true },
  )
  const pose = computed(() =>
    drawing.value?.poses.find((entry) => Object.entries(entry.hands).every(([id, value]) => hands.value[id] === value)),
  )
  return { hands, shown, problem, set, pose }
}
