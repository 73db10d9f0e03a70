import { ref, watchEffect } from 'vue'

export type Look = 'light' | 'dark'
const KEPT = 'look'

/** Light paper, or dark for a dim workshop; kept on this device. */
export const look = ref<Look>(localStorage.getItem(KEPT) === 'dark' ? 'dark' : 'light')

watchEffect(() => {
  document.documentElement.dataset.look = look.value
  localStorage.setItem(KEPT, look.value)
})
