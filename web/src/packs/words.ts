// Words of packs: states, days, what is logged.
import type { Due, Logged, PackState, Severity } from '../api/types'

export const states: { value: PackState; title: string }[] = [
  { value: 'in_use', title: 'In use' },
  { value: 'stored', title: 'In storage' },
  { value: 'retired', title: 'Retired' },
  { value: 'handed_over', title: 'Handed over' },
  { value: 'recycled', title: 'Recycled' },
]

export const stateName = (state: PackState): string => states.find((s) => s.value === state)?.title ?? state

/** What can be logged, by the button that begins it. */
export const kinds: { what: Logged['what']; title: string }[] = [
  { what: 'rest', title: 'Rest voltages' },
  { what: 'charge', title: 'Charge' },
  { what: 'run', title: 'Run' },
  { what: 'event', title: 'Event' },
  { what: 'capacity', title: 'Capacity test' },
  { what: 'resistance', title: 'Resistance' },
  { what: 'looked', title: 'Inspection' },
  { what: 'storage', title: 'Into storage' },
  { what: 'repair', title: 'Repair' },
  { what: 'state', title: 'New state' },
  { what: 'note', title: 'Note or photo' },
]

/** An entry of that kind with nothing in it. */
export function blank(what: Logged['what'], groups: number): Logged {
  switch (what) {
    case 'rest':
      return { what, groups_v: Array.from({ length: groups }, () => NaN), rested_s: null }
    case 'charge':
      return { what, charge_ah: null, took_s: null, ended: null, end_a: null }
    case 'run':
      return { what, took_s: null, charge_ah: null, is_whole: false, temp_c: null }
    case 'capacity':
      return { what, charge_ah: NaN, rate_a: null, to_v: null, temp_c: null }
    case 'resistance':
      return { what, resistance_ohm: NaN, by: 'load' }
    case 'event':
      return { what, mishap: 'other' }
    case 'looked':
      return { what, is_sound: true }
    case 'repair':
      return { what, exchanged: '', groups: [] }
    case 'storage':
      return { what, cell_v: NaN }
    case 'state':
      return { what, to: 'in_use' }
    default:
      return { what: 'note' }
  }
}

const DAY_S = 86_400

/** A day as a person writes it. */
export const dayOf = (at_s: number): string =>
  new Date(at_s * 1000).toLocaleDateString(undefined, { day: 'numeric', month: 'short', year: 'numeric' })

/** A month as a person writes it. */
export const monthOf = (at_s: number): string =>
  new Date(at_s * 1000).toLocaleDateString(undefined, { month: 'short', year: 'numeric' })

export const isDue = (due: { on_s: number }, now_s = Date.now() / 1000): boolean => due.on_s <= now_s

/** When it is due, from today. */
export function dueIn(on_s: number, now_s = Date.now() / 1000): string {
  const days = Math.round((on_s - now_s) / DAY_S)
  if (days < -1) return `${-days} days late`
  if (days < 1) return 'today'
  if (days === 1) return 'tomorrow'
  return days < 30 ? `in ${days} days` : dayOf(on_s)
}

/** How loud something that is due is told: what lies ahead is no more than a note. */
export const loudness = (due: Pick<Due, 'on_s' | 'severity'>): Severity =>
  isDue(due) || due.severity === 'stop' ? due.severity : 'note'
