// What happened at the bench and is not kept yet: in this browser until the server has it, so that nothing typed is lost.
import type { Happened } from '../api/types'

const key = (build: string): string => `dense-brick.build.${build}`

export function unsentOf(build: string): Happened[] {
  try {
    return JSON.parse(localStorage.getItem(key(build)) ?? '[]') as Happened[]
  } catch {
    return []
  }
}

/** Keeps what is unsent. A full or forbidden store is no reason to stop working: the page still holds it. */
export function keepUnsent(build: string, unsent: Happened[]): void {
  try {
    if (unsent.length) localStorage.setItem(key(build), JSON.stringify(unsent))
    else localStorage.removeItem(key(build))
  } catch {
    // The page itself still holds it.
  }
}
