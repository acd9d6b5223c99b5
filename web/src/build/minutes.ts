// How long the charge has gone on, by the newest line and the clock.
import type { ChargeWatch } from '../api/types'

const MS_PER_S = 1000
const S_PER_MIN = 60

/** Whole minutes since the charger was connected; 0 before the first line. */
export function minutesNow(watch: Pick<ChargeWatch, 'lines' | 'written_at'>, now = Date.now()): number {
  const last = watch.lines.at(-1)
  if (!last || !watch.written_at) return 0
  const since = Math.max((now - Date.parse(watch.written_at)) / MS_PER_S, 0)
  return Math.round((last.after_s + since) / S_PER_MIN)
}
