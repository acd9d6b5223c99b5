// Work that is not saved yet, kept in this browser: a closed tab or a stopped database loses nothing.
import type { Plan } from '../api/types'

/** A plan as it stands on the page, and what it was opened from. */
export interface Draft {
  plan: Plan
  revision: number
  edit: number
  /** Keys of saves that were sent from there and not answered. */
  keys?: string[]
}

const key = (id: string): string => `dense-brick.draft.${id}`

/** Keeps a draft. A full or forbidden store is no reason to stop working. */
export function keepDraft(id: string, draft: Draft): void {
  try {
    localStorage.setItem(key(id), JSON.stringify(draft))
  } catch {
    // The page itself still holds the plan.
  }
}

/** The draft of a plan, or null. */
export function draftOf(id: string): Draft | null {
  try {
    const text = localStorage.getItem(key(id))
    return text ? (JSON.parse(text) as Draft) : null
  } catch {
    return null
  }
}

export function dropDraft(id: string): void {
  localStorage.removeItem(key(id))
}
