// What is lower on a long page waits for its turn: one part a frame, after what stands above it.
import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

let waiting: (() => void)[] = []
let working = false
/** Somebody is going to another page: nothing more is made of this one. */
let leaving = false

/** Whether it is the turn of a component to be filled: the head of a page is there at once, and nothing stalls. */
export function useTurn(): Ref<boolean> {
  const its = ref(false)
  const fill = () => void (its.value = true)
  onMounted(() => {
    waiting.push(fill)
    work()
  })
  onBeforeUnmount(() => (waiting = waiting.filter((one) => one !== fill)))
  return its
}

/** Whether something on the page still waits for its turn. */
export const fills = () => working

export function holdTurns(): void {
  leaving = true
}

/** The other page is there; or this one stays, and is made whole. */
export function goOnWithTurns(): void {
  leaving = false
  work()
}

function work(): void {
  if (working || leaving || !waiting.length) return
  working = true
  // After what is there has been painted.
  requestAnimationFrame(() => setTimeout(next))
}

function next(): void {
  working = false
  if (leaving) return
  waiting.shift()?.()
  work()
}
