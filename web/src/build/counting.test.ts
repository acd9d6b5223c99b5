import { expect, it } from 'vitest'
import type { BuildStep, Counts, Plan, StepState } from '../api/types'
import { countsOn, planned } from './counting'

const plan = {
  nodes: [
    { id: 'charger' },
    { id: 'board', part: { part: { module: { protects: { trip_a: { value: 70, how: 'stated' } } } } } },
  ],
  charging: { jack_v: { value: 16.1, how: 'measured' }, plug_v: null },
  packs: [{ group_v: [{ value: 3.9, how: 'measured' }] }],
  arrivals: [{ place: 'board', test: 'trip', part: 'old board', reading: null, passed: true }],
} as unknown as Plan

const step = (...counts: Counts[]) =>
  ({ asks: counts.map((c, i) => ({ key: `a${i}`, counts: c })) }) as unknown as BuildStep
const read = (...values: (number | null)[]) =>
  ({ asks: values.map((value) => ({ value, yes: null })) }) as unknown as StepState

it('puts a figure where the plan has it, wherever its node stands', () => {
  const trip = step({ as: 'figure', place: 'board', at: '/part/part/module/protects/trip_a' })
  expect(planned(plan, trip, 0)).toBe(70)
  expect(countsOn(plan, trip, read(64), 0)).toEqual({
    at: '/nodes/1/part/part/module/protects/trip_a',
    value: { value: 64, how: 'measured' },
  })
  expect(countsOn(plan, trip, read(null), 0)).toBeNull()
  expect(countsOn(plan, trip, read(70), 0)).toBeNull()
  expect(countsOn(plan, step({ as: 'figure', place: 'gone', at: '/x' }), read(64), 0)).toBeNull()
})

it('puts a reading at the contacts where the charging keeps it', () => {
  const contacts = step({ as: 'plan', at: '/charging/jack_v' }, { as: 'plan', at: '/charging/plug_v' })
  expect(planned(plan, contacts, 0)).toBe(16.1)
  expect(planned(plan, contacts, 1)).toBeNull()
  expect(countsOn(plan, contacts, read(16.1, 16.8), 0)).toBeNull()
  expect(countsOn(plan, contacts, read(16.1, 16.8), 1)).toEqual({
    at: '/charging/plug_v',
    value: { value: 16.8, how: 'measured' },
  })
})

it('puts a bare number or an answer where the plan keeps it so', () => {
  const proving = step(
    { as: 'bare', at: '/device/proving/limit_a' },
    { as: 'bare', at: '/device/proving/lives' },
  )
  const now = { ...plan, device: { proving: { limit_a: 2, lives: null } } } as unknown as Plan
  const alive = {
    asks: [
      { value: 1.5, yes: null },
      { value: null, yes: true },
    ],
  } as unknown as StepState
  expect(planned(now, proving, 0)).toBe(2)
  expect(planned(now, proving, 1)).toBeNull()
  expect(countsOn(now, proving, alive, 0)).toEqual({ at: '/device/proving/limit_a', value: 1.5 })
  expect(countsOn(now, proving, alive, 1)).toEqual({ at: '/device/proving/lives', value: true })
  expect(countsOn(now, proving, read(2, null), 0)).toBeNull()
})

it('waits until every group was read', () => {
  const both = step({ as: 'groups' }, { as: 'groups' })
  expect(planned(plan, both, 0)).toBe(3.9)
  expect(planned(plan, both, 1)).toBeNull()
  expect(countsOn(plan, both, read(4.1, null), 0)).toBeNull()
  expect(countsOn(plan, both, read(4.1, 4.11), 0)?.value).toHaveLength(2)
})

it('keeps outcomes of other parts beside its own', () => {
  const test = step({ as: 'arrival', place: 'board', test: 'trip', part: 'new board' })
  const change = countsOn(plan, test, read(31), 0)
  expect(change?.at).toBe('/arrivals')
  expect(change?.value).toHaveLength(2)
})
