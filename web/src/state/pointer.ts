// Reading and changing a document by JSON pointer (RFC 6901), without touching the original: as core does it, a change puts a
// value at a key of an object or in the place of an entry of a list, and fails where neither is.
import { Pointer } from 'rfc6902'
import type { Change } from '../api/types'

/** The value at a pointer, or undefined. */
export const valueAt = (document: unknown, pointer: string): unknown =>
  Pointer.fromJSON(pointer).get(document)

/** The document with the changes made, in order. What no change touches is the same object as before: who shows it need not look again. */
export function withChanges<T>(document: T, changes: Change[]): T {
  return changes.reduce((made, { at, value }) => {
    const pointer = Pointer.fromJSON(at)
    const place = pointer.evaluate(made)
    const parent = place.parent as object | null | undefined
    const isThere = typeof parent === 'object' && parent !== null
    if (!isThere || (Array.isArray(parent) && place.value === undefined))
      throw new Error(`nothing stands at ${at}`)
    return put(made, pointer.tokens.slice(1), value) as T
  }, document)
}

/** A copy of what leads to the place, with the value there. */
function put(of: unknown, [key, ...rest]: string[], value: unknown): unknown {
  if (key === undefined) return value
  const copy = (Array.isArray(of) ? [...of] : { ...(of as object) }) as Record<string, unknown>
  copy[key] = put(copy[key], rest, value)
  return copy
}

/** What came, with every part that is as it was being the very part that was there before. */
export function kept<T>(before: unknown, now: T): T {
  if (before === now || typeof before !== 'object' || typeof now !== 'object' || !before || !now) return now
  if (Array.isArray(before) !== Array.isArray(now)) return now
  const [was, is] = [before as Record<string, unknown>, now as Record<string, unknown>]
  const keys = Object.keys(is)
  let same = keys.length === Object.keys(was).length
  const made: Record<string, unknown> = {}
  for (const key of keys) {
    made[key] = kept(was[key], is[key])
    same &&= made[key] === was[key] && key in was
  }
  if (same) return before as T
  return (Array.isArray(now) ? Object.values(made) : made) as T
}

/** Pointers of every value of that key and content, wherever it stands. */
export function placesOf(document: unknown, key: string, content: unknown, at = new Pointer()): string[] {
  if (typeof document !== 'object' || document === null) return []
  return Object.entries(document).flatMap(([name, value]) => {
    const here = at.add(name)
    return name === key && value === content ? [here.toString()] : placesOf(value, key, content, here)
  })
}
