// What was read in a build, put into the plan in the place of what was stated.
import type { Arrival, AskState, BuildStep, Change, Counts, Known, Plan, StepState } from '../api/types'
import { valueAt } from '../state/pointer'

const measured = (value: number): Known => ({ value, how: 'measured' })

const nodeAt = (plan: Plan, counts: Extract<Counts, { as: 'figure' }>): string | null => {
  const index = plan.nodes.findIndex((n) => n.id === counts.place)
  return index < 0 ? null : `/nodes/${index}${counts.at}`
}

/** Where in the plan a figure is counted on; null where it has no place for it. */
function pointerOf(plan: Plan, counts: Counts | null | undefined): string | null {
  if (counts?.as === 'plan' || counts?.as === 'bare') return counts.at
  return counts?.as === 'figure' ? nodeAt(plan, counts) : null
}

/** Every group of the step, in order; null while one of them was not read. */
function groups(step: BuildStep, state: StepState): Known[] | null {
  const read = step.asks.flatMap((ask, i) => (ask.counts?.as === 'groups' ? [state.asks[i]?.value] : []))
  return read.every((v) => v != null) ? read.map((v) => measured(v!)) : null
}

/**
 * The change by which a plan counts on a reading; null where it has no place for it, something is still to be read, or it
 * counts on it already.
 */
export function countsOn(plan: Plan, step: BuildStep, state: StepState, at: number): Change | null {
  const counts = step.asks[at]?.counts
  const read = state.asks[at]
  if (!counts || !read || (read.value == null && read.yes == null)) return null
  if (counts.as === 'groups') {
    const value = groups(step, state)
    const now = plan.packs[0]?.group_v ?? []
    const same = value?.length === now.length && value.every((v, i) => v.value === now[i]?.value)
    return value && !same ? { at: '/packs/0/group_v', value } : null
  }
  if (counts.as === 'bare') {
    const value = read.yes ?? read.value
    return value === (valueAt(plan, counts.at) ?? null) ? null : { at: counts.at, value }
  }
  if (counts.as !== 'arrival') {
    const pointer = pointerOf(plan, counts)
    const same = read.value === planned(plan, step, at)
    return pointer && read.value != null && !same ? { at: pointer, value: measured(read.value) } : null
  }
  const kept = outcomeOf(plan, counts)
  if (
    kept &&
    (kept.reading?.value ?? null) === (read.value ?? null) &&
    (kept.passed ?? null) === (read.yes ?? null)
  )
    return null
  return { at: '/arrivals', value: outcomes(plan, counts, read) }
}

const outcomeOf = (
  plan: Plan,
  { place, test, part }: Extract<Counts, { as: 'arrival' }>,
): Arrival | undefined =>
  (plan.arrivals ?? []).find((a) => a.place === place && a.test === test && a.part === part)

/** The outcomes of tests on arrival with this one in the place of an older. */
function outcomes(
  plan: Plan,
  { place, test, part }: Extract<Counts, { as: 'arrival' }>,
  read: AskState,
): Arrival[] {
  const others = (plan.arrivals ?? []).filter((a) => a.place !== place || a.test !== test || a.part !== part)
  const reading = read.value == null ? null : measured(read.value)
  return [...others, { place, test, part, reading, passed: read.yes ?? null }]
}

/** What the plan counts on now, beside which a reading stands; null where it has none. */
export function planned(plan: Plan, step: BuildStep, at: number): number | null {
  const counts = step.asks[at]?.counts
  if (counts?.as === 'groups') {
    const group = step.asks.slice(0, at).filter((a) => a.counts?.as === 'groups').length
    return plan.packs[0]?.group_v?.[group]?.value ?? null
  }
  if (counts?.as === 'arrival') return outcomeOf(plan, counts)?.reading?.value ?? null
  const pointer = pointerOf(plan, counts)
  const has = pointer ? (valueAt(plan, pointer) as Known | number | boolean | null) : null
  return typeof has === 'number' ? has : ((has as Known | null)?.value ?? null)
}
