import { expect, test } from 'vitest'
import { placesOf, valueAt, withChanges } from './pointer'

const document = { packs: [{ id: 'pack', 'a/b': { '~': 1 } }], nodes: [{ id: 'fuse' }] }

test('a pointer leads through objects and lists, and nowhere where nothing is', () => {
  expect(valueAt(document, '/packs/0/id')).toBe('pack')
  expect(valueAt(document, '/packs/0/a~1b/~0')).toBe(1)
  expect(valueAt(document, '')).toBe(document)
  expect(valueAt(document, '/packs/7/id')).toBeUndefined()
})

test('changes are made in order on a copy', () => {
  const changed = withChanges(document, [
    { at: '/nodes/0/id', value: 'board' },
    { at: '/nodes/0/part', value: { state: 'open' } },
    { at: '/nodes/0/part/state', value: 'none' },
  ])
  expect(changed.nodes[0]).toEqual({ id: 'board', part: { state: 'none' } })
  expect(document.nodes[0]).toEqual({ id: 'fuse' })
})

test('what is found by its content is named by a pointer that leads back to it', () => {
  const [at] = placesOf(document, '~', 1)
  expect(at).toBe('/packs/0/a~1b/~0')
  expect(valueAt(document, at ?? '')).toBe(1)
})
