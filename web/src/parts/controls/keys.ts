import { onBeforeUnmount, onMounted } from 'vue'

/** Listen to the keys of the whole window as long as the component is there. Keys that are pressed in a field or
 * together with Ctrl are the browser's own; a slider has none of the letters. */
export function useKeys(actions: () => Record<string, () => void>) {
  function onKey(event: KeyboardEvent) {
    if (isWriting(event.target) || event.ctrlKey || event.metaKey) return
    const action = actions()[event.key]
    if (!action) return
    action()
    event.preventDefault()
  }
  onMounted(() => window.addEventListener('keydown', onKey))
  onBeforeUnmount(() => window.removeEventListener('keydown', onKey))
}

/** Whether keys belong to the element that has them. */
function isWriting(at: EventTarget | null): boolean {
  if (!(at instanceof HTMLElement)) return false
  return at.matches('input, textarea, select') || at.isContentEditable
}
