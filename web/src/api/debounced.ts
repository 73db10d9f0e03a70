import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'

/** A ref that follows another once it has been quiet for some milliseconds. */
export function refDebounced<T>(source: Ref<T>, quiet: number): Ref<T> {
  const settled = shallowRef(source.value) as Ref<T>
  let timer: ReturnType<typeof setTimeout> | undefined
  watch(
    source,
    (value) => {
      clearTimeout(timer)
      timer = setTimeout(() => (settled.value = value), quiet)
    },
    { deep: true },
  )
  onScopeDispose(() => clearTimeout(timer))
  return settled
}
