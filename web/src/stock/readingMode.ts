// What is being read at the bench, and under which conditions: kept while the maker goes from cell to cell.
import { reactive } from 'vue'
import type { Method, ReadingKind, TypedReadings } from '../api/types'

export const reading = reactive({
  kind: null as ReadingKind | null,
  instrument: '',
  method: null as Method | null,
  temperature_c: null as number | null,
  soc_share: null as number | null,
  rate_a: null as number | null,
  cutoff_v: null as number | null,
  rest_s: null as number | null,
  taken_at: '',
})

/** Readings as they are sent: of the conditions only those that matter to what is read. */
export function typedReadings(kind: ReadingKind, entries: TypedReadings['entries']): TypedReadings {
  const { instrument, temperature_c } = reading
  const of = {
    arrival_v: {},
    rested_v: {},
    self_discharge_v: { rest_s: reading.rest_s },
    resistance_ohm: { method: reading.method, soc_share: reading.soc_share },
    capacity_ah: { rate_a: reading.rate_a, cutoff_v: reading.cutoff_v },
  }[kind]
  return {
    kind,
    conditions: { instrument: instrument.trim(), temperature_c, ...of },
    taken_at: reading.taken_at || null,
    entries,
  }
}
