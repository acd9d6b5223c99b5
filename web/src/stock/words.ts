// Words and shapes for what core says of cells.
import type { CellState, CellVerdict, ReadingKind, Severity, Unit, Verdict } from '../api/types'

export const verdictWords: Record<CellVerdict, string> = {
  unfinished: 'unfinished',
  fine: 'fine',
  watch: 'watch',
  recover: 'recover',
  scrap: 'scrap',
}

/** The shape of a verdict; its word always stands beside it. */
export const verdictShape: Record<CellVerdict, Verdict | Severity | 'fine'> = {
  unfinished: 'nothing_yet',
  fine: 'fine',
  watch: 'note',
  recover: 'caution',
  scrap: 'stop',
}

/** In the order of core's counts. */
export const verdictOrder: CellVerdict[] = ['unfinished', 'fine', 'watch', 'recover', 'scrap']

export const stateWords: Record<CellState, string> = {
  new: 'new',
  tested: 'tested',
  reserved: 'reserved',
  built_in: 'built in',
  retired: 'retired',
}

/** The kinds of reading in the order of the work, with the range their field is read by. */
export const kinds: { value: ReadingKind; title: string; short: string; range: string; unit: Unit }[] = [
  { value: 'arrival_v', title: 'Voltage on arrival', short: 'volts', range: 'read_volts', unit: 'v' },
  { value: 'resistance_ohm', title: 'Resistance', short: 'resistance', range: 'dcir', unit: 'ohm' },
  { value: 'capacity_ah', title: 'Capacity', short: 'capacity', range: 'read_ah', unit: 'ah' },
  { value: 'rested_v', title: 'Voltage after rest', short: 'rested', range: 'read_volts', unit: 'v' },
  {
    value: 'self_discharge_v',
    title: 'Voltage lost over a rest',
    short: 'lost',
    range: 'small_volts',
    unit: 'v',
  },
]

export const kindOf = (kind: string) => kinds.find((k) => k.value === kind)

export const methods = [
  { value: null, title: 'not noted' },
  { value: 'ac1khz', title: 'AC 1 kHz' },
  { value: 'dc_pulse', title: 'DC pulse' },
] as const
