// A reading as it is typed at the bench, also while the server is away: a number with a point or a comma, its unit behind it.
import type { Unit } from '../api/types'

const prefixes: Record<string, number> = { µ: 1e-6, u: 1e-6, m: 1e-3, '': 1, k: 1e3, M: 1e6 }
const symbols: Partial<Record<Unit, string>> = { v: 'v', a: 'a', ohm: 'Ω|ohm', s: 's' }
/** Longer units of time than the second. */
const times: Record<string, number> = { s: 1, min: 60, h: 3600 }

/** The reading in the unit that is asked for; null where the text is none. Another unit than that is none either. */
export function readReading(text: string, unit: Unit): number | null {
  const typed = text.trim().replace('−', '-').replace(',', '.')
  const number = String.raw`(-?(?:\d+\.?\d*|\.\d+))`
  if (unit === 's') {
    const found = new RegExp(`^${number}\\s*(s|min|h)?$`).exec(typed)
    return found ? Number(found[1]) * times[found[2] ?? 's']! : null
  }
  const found = new RegExp(`^${number}\\s*([µumkM]?)(?:${symbols[unit] ?? unit})?$`, 'i').exec(typed)
  if (!found) return null
  const factor = prefixes[found[2] ?? ''] ?? prefixes[(found[2] ?? '').toLowerCase()]
  return factor === undefined ? null : Number(found[1]) * factor
}
