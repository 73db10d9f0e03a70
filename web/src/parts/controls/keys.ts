import { onBeforeUnmount, onMounted } from 'vue'

/** Listen to the keys of the whole window as long as the component is there: '?', or 'ctrl+z' and 'ctrl+shift+z', where the
 * command key of other keyboards counts as Ctrl. Keys that are pressed in a field are the field's own, those together with
 * Ctrl that stand for nothing here the browser's; a slider has none of the letters. */
export function useKeys(actions: () => Record<string, () => void>) {
  function onKey(event: KeyboardEvent) {
    if (isWriting(event.target)) return
    const action = actions()[nameOf(event)]
    if (!action) return
    action()
    event.preventDefault()
  }
  onMounted(() => window.addEventListener('keydown', onKey))
  onBeforeUnmount(() => window.removeEventListener('keydown', onKey))
}

function nameOf(event: KeyboardEvent): string {
  if (!event.ctrlKey && !event.metaKey) return event.key
  return `ctrl+${event.shiftKey ? 'shift+' : ''}${event.key.toLowerCase()}`
}

/** Whether keys belong to the element that has them. */
function isWriting(at: EventTarget | null): boolean {
  if (!(at instanceof HTMLElement)) return false
  return at.matches('input, textarea, select') || at.isContentEditable
}
