// What belongs to the person at this browser, not to a plan.
import { ref, watch } from 'vue'

const key = 'dense-brick.theme'

function wanted(): 'light' | 'dark' {
  const kept = localStorage.getItem(key)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

/** Light for a bright shop, dark for a dim one. */
export const theme = ref<'light' | 'dark'>(wanted())

watch(theme, (now) => localStorage.setItem(key, now))
