import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch, type Ref } from 'vue'
import { client, sentence, unwrap } from '@/api/client'
import { refDebounced } from '@/api/debounced'
import { units } from '@/api/session'
import type { Lesson } from '@/features/lessons/draft'
import type { Lanes } from '@/parts/lanes/geometry'
import type { Answer } from '@/parts/stations/kind'
import { answerTo, kindOf } from '@/parts/stations/kinds'

/** What a learner sees of a draft, its key, and whether it is fair, computed while the trainer works on it.
 *
 * `seed`: whose car it is, 0 the trainer's own. With the lesson itself selected, the first station that shows signals
 * answers to changes of the fault. */
export function usePreview(document: Ref<Lesson | undefined>, selected: Ref<number>, seed: Ref<number>) {
  const previewed = computed(() => {
    if (selected.value >= 0) return selected.value
    const stations = document.value?.stations ?? []
    return Math.max(
      0,
      stations.findIndex((s) => kindOf(s).showsSignals),
    )
  })
  const wish = computed(() => ({
    document: document.value as unknown as Record<string, unknown>,
    station: previewed.value,
    seed: seed.value,
  }))
  const settled = refDebounced(wish, 80)

  /** What is computed depends on the car and on what a station asks, not on its words: typing a text asks for nothing. */
  const computedFrom = computed(() => {
    const lesson = settled.value.document as unknown as Lesson | undefined
    const at = lesson?.stations[settled.value.station]
    if (!lesson || !at) return undefined
    const { rig, script, drives, faults, or_else } = lesson
    return {
      rig,
      script,
      drives,
      faults,
      or_else,
      seed: settled.value.seed,
      units: units.value,
      station: { ...at, text: '', title: '' },
    }
  })
  const preview = useQuery({
    queryKey: ['preview', computedFrom],
    queryFn: ({ signal }) => unwrap(client.POST('/api/preview/station', { body: settled.value, signal })),
    enabled: computed(() => settled.value.document !== undefined),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  })

  const calm = refDebounced(
    computed(() => document.value),
    900,
  )
  const check = useQuery({
    queryKey: ['lesson-check', calm],
    queryFn: ({ signal }) =>
      unwrap(
        client.POST('/api/preview/check', {
          body: { document: calm.value as unknown as Record<string, unknown> },
          signal,
        }),
      ),
    enabled: computed(() => calm.value !== undefined),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  })

  /** The computed station with the words as they stand in the form; another one than the chosen is not shown meanwhile. */
  const view = computed(() => {
    const found = preview.data.value?.station
    const chosen = document.value?.stations[selected.value]
    if (chosen && found?.id !== chosen.id) return undefined
    const words = document.value?.stations.find((s) => s.id === found?.id && s.kind === found.kind)
    return found && words ? { ...found, title: words.title, text: words.text ?? '' } : undefined
  })
  /** Old lanes never stand under a new station: all its channels must be in them. */
  const lanes = computed<Lanes | null>(() => {
    const found = preview.data.value?.lanes
    const channels = view.value && 'channels' in view.value ? view.value.channels : []
    return found && channels.every((name) => name in found.lanes) ? found : null
  })
  /** What the trainer tries as an answer; another car or station asks anew. */
  const tried = ref<Answer>()
  watch(
    () => [view.value?.id, seed.value],
    () => (tried.value = view.value && answerTo(view.value)),
  )

  return {
    wish,
    view,
    lanes,
    tried,
    key: computed(() => preview.data.value?.key),
    rulings: computed(() => preview.data.value?.rulings ?? []),
    running: preview.isFetching,
    refusal: computed(() => (preview.error.value ? sentence(preview.error.value) : '')),
    warnings: computed(() => check.data.value?.warnings ?? []),
    checking: check.isFetching,
  }
}
