// What is asked of a grouping: how many cells, how much each kind of likeness counts, how long to search.
import type { Effort } from '../api/types'

export interface GroupForm {
  series: number | null
  parallel: number | null
  mixLots: boolean
  withWatched: boolean
  capacity: number | null
  resistance: number | null
  selfDischarge: number | null
  effort: Effort
  seed: number
}

export const newGroupForm = (): GroupForm => ({
  series: 4,
  parallel: 2,
  mixLots: true,
  withWatched: true,
  capacity: 1,
  resistance: 0.05,
  selfDischarge: 0.5,
  effort: 'quick',
  seed: 1,
})
