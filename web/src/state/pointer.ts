// Reading and changing a document by JSON pointer, without touching the original.
import type { Change } from '../api/types'

type Tree = Record<string, unknown>

function steps(pointer: string): string[] {
  return pointer
    .split('/')
    .slice(1)
    .map((s) => s.replaceAll('~1', '/').replaceAll('~0', '~'))
}

/** The value at a pointer, or undefined. */
export function valueAt(document: unknown, pointer: string): unknown {
  return steps(pointer).reduce<unknown>(
    (at, step) => (typeof at === 'object' && at !== null ? (at as Tree)[step] : undefined),
    document,
  )
}

/** A copy of the document with the changes made, in order. */
export function withChanges<T>(document: T, changes: Change[]): T {
  const copy = JSON.parse(JSON.stringify(document)) as T
  for (const { at, value } of changes) {
    const path = steps(at)
    const last = path.pop()
    const parent = path.reduce<unknown>((node, step) => (node as Tree)[step], copy)
    if (last !== undefined) (parent as Tree)[last] = value
  }
  return copy
}

/** Pointers of every value of that key and content, wherever it stands. */
export function placesOf(document: unknown, key: string, content: unknown, at = ''): string[] {
  if (typeof document !== 'object' || document === null) return []
  return Object.entries(document).flatMap(([name, value]) => {
    const here = `${at}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`
    return name === key && value === content ? [here] : placesOf(value, key, content, here)
  })
}
