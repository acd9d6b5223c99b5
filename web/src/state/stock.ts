// The stock as this browser looks at it: lots, the one chosen, the cell that is open. Rows are fetched by the table.
import { computed, ref, shallowRef } from 'vue'
import { api } from '../api/client'
import type { LotSummary, Problem } from '../api/types'

const lots = shallowRef<LotSummary[] | null>(null)
/** Id of the lot looked at; null for the whole stock. */
const lotId = ref<string | null>(null)
/** Id of the cell whose sheet is open. */
const cellId = ref<string | null>(null)
const problem = shallowRef<Problem | null>(null)
/** Counts up whenever something of the stock was changed: tables and plots fetch anew. */
const change = ref(0)

async function refresh(): Promise<void> {
  const answer = await api.lots()
  if (answer.ok) lots.value = answer.value
  else problem.value = answer.problem
}

/** Tells everything that shows the stock that it was changed. */
async function changed(): Promise<void> {
  change.value++
  await refresh()
}

export function useStock() {
  return {
    lots,
    lotId,
    cellId,
    problem,
    change,
    lot: computed(() => lots.value?.find((l) => l.id === lotId.value) ?? null),
    refresh,
    changed,
  }
}
