import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import type { Change } from '../api/types'
import { placesOf, valueAt, withChanges } from './pointer'

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
