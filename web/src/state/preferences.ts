// What belongs to the person at this browser, not to a plan.
import { ref, watch, type Ref } from 'vue'

/** A choice among words, kept in this browser. */
function kept<T extends string>(name: string, choices: readonly T[], first: () => T): Ref<T> {
  const key = `dense-brick.${name}`
  const found = localStorage.getItem(key)
  const value = ref(choices.includes(found as T) ? (found as T) : first()) as Ref<T>
  watch(value, (now) => localStorage.setItem(key, now))
  // What is chosen in one tab holds in the others.
  addEventListener('storage', (event) => {
    if (event.key === key && choices.includes(event.newValue as T)) value.value = event.newValue as T
  })
  return value
}

/** Light for a bright shop, dark for a dim one. */
export const theme = kept('theme', ['light', 'dark'] as const, () =>
  matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light',
)

/** How the decimal mark is written; either is understood when typed. */
export const decimalMark = kept('decimal', ['.', ','] as const, () => '.')

/** How the thickness of a wire is written. */
export const wireSizes = kept('wire', ['awg', 'metric'] as const, () => 'awg')

export const currencies = ['€', '$', '£', 'CHF', 'kr', 'zł', 'Kč', '¥', '₹'] as const

/** Currency of new plans. */
export const currency = kept('currency', currencies, () => '€')
