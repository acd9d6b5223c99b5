import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import type { Change } from '../api/types'
import { kept, placesOf, valueAt, withChanges } from './pointer'

const document = { packs: [{ id: 'pack', 'a/b': { '~': 1 } }], nodes: [{ id: 'fuse' }] }

test('a pointer leads through objects and lists, and nowhere where nothing is', () => {
  expect(valueAt(document, '/packs/0/id')).toBe('pack')
  expect(valueAt(document, '/packs/0/a~1b/~0')).toBe(1)
  expect(valueAt(document, '')).toBe(document)
  expect(valueAt(document, '/packs/7/id')).toBeUndefined()
})

interface Case {
  what: string
  document: unknown
  changes: Change[]
  /** Null where the changes cannot be made. */
  result: unknown
}
const cases = JSON.parse(
  readFileSync(new URL('../../../core/tests/changes.json', import.meta.url), 'utf8'),
) as Case[]

test.each(cases)('as in core: $what', ({ document, changes, result }) => {
  const before = JSON.stringify(document)
  if (result === null) expect(() => withChanges(document, changes)).toThrow('nothing stands at')
  else expect(withChanges(document, changes)).toEqual(result)
  expect(JSON.stringify(document)).toBe(before)
})

test('what is found by its content is named by a pointer that leads back to it', () => {
  const [at] = placesOf(document, '~', 1)
  expect(at).toBe('/packs/0/a~1b/~0')
  expect(valueAt(document, at ?? '')).toBe(1)
})

test('what a change does not touch stays the very same', () => {
  const changed = withChanges(document, [
    { at: '/nodes/0/id', value: 'wide fuse' },
    { at: '/packs/0/id', value: 'pack' },
  ])
  expect(changed).not.toBe(document)
  expect(changed.nodes[0]).toEqual({ id: 'wide fuse' })
  expect(changed.packs[0]?.['a/b']).toBe(document.packs[0]?.['a/b'])
  expect(document.nodes[0]?.id).toBe('fuse')
})

test('of what came, only what differs is new', () => {
  const before = {
    figures: [
      { id: 'a', value: 1 },
      { id: 'b', value: 2 },
    ],
    next: { says: 'read' },
    gone: null,
  }
  const copy = () => JSON.parse(JSON.stringify(before)) as typeof before
  expect(kept(before, copy())).toBe(before)
  const now = {
    ...copy(),
    figures: [
      { id: 'a', value: 1 },
      { id: 'b', value: 3 },
    ],
  }
  const found = kept(before, now)
  expect(found).toEqual(now)
  expect(found.figures[0]).toBe(before.figures[0])
  expect(found.figures[1]).not.toBe(before.figures[1])
  expect(found.next).toBe(before.next)
  // A list is no object with the same keys, and what is missing is not what is undefined.
  expect(kept({ 0: 'x' } as unknown, ['x'])).toEqual(['x'])
  expect(Array.isArray(kept(['x', 'y'], ['x']))).toBe(true)
  expect(kept({ a: undefined, b: 1 } as object, { b: 1 })).toEqual({ b: 1 })
  expect(kept(null as unknown, { b: 1 })).toEqual({ b: 1 })
})
