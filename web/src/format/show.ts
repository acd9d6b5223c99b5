// How values are written on screen. The same rules as core's `quantity::show`; nothing is computed here but size.
import type { Link, Unit } from '../api/types'
import { decimalMark, wireSizes } from '../state/preferences'

const symbols: Record<Unit, string> = {
  v: 'V',
  a: 'A',
  ohm: 'Ω',
  ah: 'Ah',
  wh: 'Wh',
  w: 'W',
  s: 's',
  c: '°C',
  k: 'K',
  f: 'F',
  mm: 'mm',
  mm2: 'mm²',
  g: 'g',
  share: '%',
  ratio: '',
  count: '',
  days: 'days',
  money: '',
  wh_per_l: 'Wh/L',
  j_per_k: 'J/K',
}

/** The symbol written behind a value of that unit. */
export function symbol(unit: Unit): string {
  return symbols[unit]
}

/** Between a number and its unit: they stay on one line. */
export const SPACE = '\u00a0'

const joined = (number: string, unit: string): string => (unit ? `${number}${SPACE}${unit}` : number)

/** Volts as a careful reading gives them, to the millivolt. */
export function showFine(value: number): string {
  return Math.abs(value) >= 1 && Math.abs(value) < 100 ? joined(trimmed(value, 3), 'V') : show(value, 'v')
}

/** A value with its unit, in the size a person would write. */
export function show(value: number, unit: Unit): string {
  const small = ['ohm', 'a', 'v', 'w', 'f'].includes(unit) && value !== 0 && Math.abs(value) < 0.1
  if (unit === 'share') return joined(significant(value * 100), '%')
  if (unit === 's') return time(value)
  if (unit === 'days') return time(value * DAY_S)
  if (unit === 'ohm' && Math.abs(value) >= 1e6) return joined(significant(value / 1e6), 'MΩ')
  if (unit === 'ohm' && Math.abs(value) >= 1e3) return joined(significant(value / 1e3), 'kΩ')
  if (unit === 'g' && Math.abs(value) >= 1e3) return joined(significant(value / 1e3), 'kg')
  if (small && Math.abs(value) < 1e-4) return joined(significant(value * 1e6), `µ${symbols[unit]}`)
  if (small) return joined(significant(value * 1e3), `m${symbols[unit]}`)
  if (unit === 'v' && Math.abs(value) >= 1 && Math.abs(value) < 100) return joined(trimmed(value, 2), 'V')
  if (['a', 'v', 'w', 'ah', 'wh'].includes(unit) && Math.abs(value) >= 1e3) {
    const size = 10 ** (Math.floor(Math.log10(Math.abs(value))) - 2)
    return joined(trimmed(Math.sign(value) * Math.round(Math.abs(value) / size) * size, 0), symbols[unit])
  }
  return joined(significant(value), symbols[unit])
}

/** A range with its unit said once, "25–30 min"; twice where the sizes differ, "40 s – 2 min". The same rule as core's. */
export function showRange(low: number, high: number, unit: Unit): string {
  const [from, to] = [show(low, unit), show(high, unit)]
  if (from === to) return to
  if (low < 0) return `${from} to ${to}`
  const [[number, ...of], [, ...also]] = [from.split(SPACE), to.split(SPACE)]
  return of[0] === also[0] ? `${number}–${to}` : `${from} – ${to}`
}

const DAY_S = 86_400
const YEAR_S = 365 * DAY_S

/** As people say them: "0.4 s", "17 min", "6.7 h", "20 days", "11 years". */
function time(seconds: number): string {
  const size = Math.abs(seconds)
  // From ten on a tenth of a second, an hour, a day or a year is not said.
  const spoken = (length: number) => trimmed(seconds / length, size < 9.95 * length ? 1 : 0)
  if (size >= 2 * YEAR_S) return joined(spoken(YEAR_S), 'years')
  if (size >= 2 * DAY_S) return joined(spoken(DAY_S), 'days')
  if (size >= 5970) return joined(spoken(3600), 'h')
  if (size >= 90) return joined(trimmed(seconds / 60, 0), 'min')
  if (size >= 9.95) return joined(trimmed(seconds, 0), 's')
  if (size >= 0.1 || seconds === 0) return joined(significant(seconds), 's')
  return joined(significant(seconds * 1e3), 'ms')
}

function significant(value: number): string {
  if (value === 0 || !Number.isFinite(value)) return '0'
  return trimmed(value, Math.min(Math.max(2 - Math.floor(Math.log10(Math.abs(value))), 0), 9))
}

function trimmed(value: number, decimals: number): string {
  const text = value.toFixed(decimals)
  return marked(text.includes('.') ? text.replace(/0+$/, '').replace(/\.$/, '') : text)
}

/** A number with a set count of decimals, for tables and scales. */
export function fixed(value: number, decimals: number): string {
  return marked(value.toFixed(decimals))
}

/** A number with at most so many decimals. */
export function plain(value: number, decimals: number): string {
  return trimmed(value, decimals)
}

/** An amount of money in the plan's currency. */
export function money(value: number, currency: string | undefined, decimals = 2): string {
  return currency ? joined(currency, fixed(value, decimals)) : fixed(value, decimals)
}

/** The thickness of a wire, in the system this person reads. */
export function wireSize(size: NonNullable<Link['size']>): string {
  if (wireSizes.value === 'metric') return show(size.area_mm2, 'mm2')
  return size.is_awg ? size.awg : `about ${size.awg}`
}

/** In the person's decimal mark, with a true minus sign. */
function marked(text: string): string {
  return text.replace('-', '−').replace('.', decimalMark.value)
}
