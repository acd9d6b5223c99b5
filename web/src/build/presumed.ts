// While what was done is on its way, or the server is away, the next step can be worked at: this browser knows what it sent. The
// server has the last word: what it refuses leads back.
import type { BuildStep, Happened, OpenBuild } from '../api/types'

/** Whether a reading that the server does not have yet lies in its band, as far as there is one. */
function fits(step: BuildStep, ask: string, value: number): boolean {
  const expects = step.asks.find((a) => a.key === ask)?.expects
  if (expects?.as !== 'band') return true
  return value >= (expects.low ?? -Infinity) && value <= (expects.high ?? Infinity)
}

/** Whether a step that is shut on the server is only waiting for what this browser has sent or still holds. */
export function isPresumedOpen(build: OpenBuild, unsent: Happened[], key: string): boolean {
  const { sheet, progress } = build
  const step = sheet.steps.find((s) => s.key === key)
  // What the plan shuts stays shut, whatever was done.
  if (!step || sheet.stops.length || sheet.undecided.some((u) => u.shuts)) return false
  const stands = new Map(progress.steps.map((s) => [s.key, s.stands]))
  const held = (need: string): boolean => {
    if (stands.get(need) === 'done' || stands.get(need) === 'opened') return true
    const mine = unsent.filter(({ event }) => event.step === need).map(({ event }) => event.happened)
    if (mine.some((h) => h.what === 'opened')) return true
    const before = sheet.steps.find((s) => s.key === need)
    const right = mine.every((h) => h.what !== 'read' || (before && fits(before, h.ask, h.value)))
    return right && stands.get(need) !== 'wrong' && mine.some((h) => h.what === 'done')
  }
  return step.needs.every(held)
}
