// Reading and changing a document by JSON pointer (RFC 6901), without touching the original: as core does it, a change puts a
// value at a key of an object or in the place of an entry of a list, and fails where neither is.
import { Pointer } from 'rfc6902'
import type { Change } from '../api/types'

/** The value at a pointer, or undefined. */
export const valueAt = (document: unknown, pointer: string): unknown =>
  Pointer.fromJSON(pointer).get(document)

/** A copy of the document with the changes made, in order. */
export function withChanges<T>(document: T, changes: Change[]): T {
  const copy = JSON.parse(JSON.stringify(document)) as T
  for (const { at, value } of changes) {
    const place = Pointer.fromJSON(at).evaluate(copy)
    const parent = place.parent as Record<string, unknown> | null | undefined
    const isThere = typeof parent === 'object' && parent !== null
    if (!isThere || (Array.isArray(parent) && place.value === undefined))
      throw new Error(`nothing stands at ${at}`)
    parent[place.key] = value
  }
  return copy
}

/** Pointers of every value of that key and content, wherever it stands. */
export function placesOf(document: unknown, key: string, content: unknown, at = new Pointer()): string[] {
  if (typeof document !== 'object' || document === null) return []
  return Object.entries(document).flatMap(([name, value]) => {
    const here = at.add(name)
    return name === key && value === content ? [here.toString()] : placesOf(value, key, content, here)
  })
}
