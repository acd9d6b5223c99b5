import { expect, it } from 'vitest'
import type { Happened, OpenBuild, What } from '../api/types'
import { isPresumedOpen } from './presumed'

const build = (stands: Record<string, string>, more: object = {}) =>
  ({
    sheet: {
      stops: [],
      undecided: [],
      steps: [
        { key: 'groups', needs: [], asks: [{ key: 'g1', expects: { as: 'band', low: 3, high: 4 } }] },
        { key: 'cover', needs: ['groups'], asks: [] },
      ],
      ...more,
    },
    progress: { steps: Object.entries(stands).map(([key, s]) => ({ key, stands: s })) },
  }) as unknown as OpenBuild
const sent = (...happened: What[]): Happened[] =>
  happened.map((h) => ({ key: 'k', event: { step: 'groups', at: '', happened: h } }))
const read = (value: number): What => ({ what: 'read', ask: 'g1', value })

it('goes on while what was done is on its way', () => {
  const open = build({ groups: 'open', cover: 'shut' })
  expect(isPresumedOpen(open, [], 'cover')).toBe(false)
  expect(isPresumedOpen(open, sent(read(3.6), { what: 'done' }), 'cover')).toBe(true)
  expect(isPresumedOpen(build({ groups: 'done', cover: 'shut' }), [], 'cover')).toBe(true)
})

it('stays shut behind a reading outside its band until a reason is written', () => {
  const open = build({ groups: 'open', cover: 'shut' })
  expect(isPresumedOpen(open, sent(read(1.2), { what: 'done' }), 'cover')).toBe(false)
  expect(isPresumedOpen(build({ groups: 'wrong', cover: 'shut' }), sent({ what: 'done' }), 'cover')).toBe(
    false,
  )
  expect(isPresumedOpen(open, sent(read(1.2), { what: 'opened', reason: 'worn' }), 'cover')).toBe(true)
})

it('stays shut where the plan shuts it', () => {
  const stopped = build({ groups: 'done', cover: 'shut' }, { stops: ['The fuse does not protect the wire'] })
  expect(isPresumedOpen(stopped, sent({ what: 'done' }), 'cover')).toBe(false)
})
