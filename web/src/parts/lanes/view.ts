import { computed, ref, shallowRef, watch } from 'vue'
import { around, clamp, indexAt, neighbour, wheeled, windowAt, type Lanes, type Range } from '@/parts/lanes/geometry'

/** What of a run is in view, and where the cursor stands; lanes, ribbon and keys share one. */
export function useView(lanes: () => Lanes, focus: () => string | null | undefined) {
  const range = shallowRef<Range>([0, lanes().seconds])
  const cursor = ref(0)
  const window = computed(() => windowAt(lanes().windows, cursor.value))
  const index = computed(() => indexAt(lanes().time, cursor.value))

  function focusOn(condition: string | null | undefined) {
    const { windows, seconds } = lanes()
    const found = windows.find((w) => w.condition === condition)
    range.value = found ? around(found, seconds) : [0, seconds]
    const start = found ?? windows.find((w) => w.condition === 'hot_idle')
    cursor.value = start ? (start.start + start.end) / 2 : seconds / 2
  }

  function show(next: Range) {
    range.value = clamp(next, lanes().seconds)
  }

  function step(direction: 1 | -1) {
    const next = neighbour(lanes().windows, cursor.value, direction)
    if (!next) return
    show(around(next, lanes().seconds))
    cursor.value = (next.start + next.end) / 2
  }

  function whole() {
    range.value = [0, lanes().seconds]
  }

  function move(by: number) {
    const width = (range.value[1] - range.value[0]) / 200
    cursor.value = Math.min(Math.max(cursor.value + by * width, 0), lanes().seconds)
  }

  function onKey(event: KeyboardEvent) {
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return
    const far = event.shiftKey ? 10 : 1
    const actions: Record<string, () => void> = {
      ArrowLeft: () => move(-far),
      ArrowRight: () => move(far),
      '[': () => step(-1),
      ']': () => step(1),
      '0': whole,
    }
    const action = actions[event.key]
    if (!action) return
    action()
    event.preventDefault()
  }

  function onWheel(event: WheelEvent) {
    const next = wheeled(range.value, event)
    if (!next) return
    event.preventDefault()
    show(next)
  }

  focusOn(focus())
  watch([focus, () => lanes().seconds], () => focusOn(focus()))
  return { range, cursor, window, index, focusOn, show, step, whole, onKey, onWheel }
}
