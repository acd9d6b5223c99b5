// Rows of the stock, fetched a page at a time as they come into view.
import { computed, ref, shallowRef, watch } from 'vue'
import type { Ref } from 'vue'
import { api } from '../api/client'
import type { CellQuery, CellRow, Problem } from '../api/types'

const PAGE = 100

/** `filter` says which cells in which order; `change` counts up when the stock was changed. */
export function useCellWindow(filter: Ref<CellQuery>, change: Ref<number>) {
  const total = ref(0)
  const pages = shallowRef<Map<number, CellRow[]>>(new Map())
  const problem = shallowRef<Problem | null>(null)
  const from = ref(0)
  const until = ref(0)
  let asked = 0
  const coming = new Set<number>()

  async function fetchPage(page: number): Promise<void> {
    if (coming.has(page)) return
    coming.add(page)
    const number = asked
    const answer = await api.cells({ ...filter.value, offset: page * PAGE, limit: PAGE })
    coming.delete(page)
    if (number !== asked) return
    if (!answer.ok) {
      problem.value = answer.problem
      return
    }
    problem.value = null
    total.value = answer.value.total
    pages.value = new Map(pages.value).set(page, answer.value.rows)
  }

  /** Says which rows are in view. */
  function look(first: number, last: number): void {
    from.value = first
    until.value = last
    for (let page = Math.floor(first / PAGE); page <= Math.floor(last / PAGE); page++) {
      if (!pages.value.has(page) && (page === 0 || page * PAGE < total.value)) void fetchPage(page)
    }
  }

  /** Fetches what is in view anew; what stood there stays until it comes. */
  function renew(keep: boolean): void {
    asked++
    coming.clear()
    const seen = [...pages.value.keys()]
    if (!keep) pages.value = new Map()
    const first = Math.floor(from.value / PAGE)
    const last = Math.floor(until.value / PAGE)
    if (keep)
      pages.value = new Map(seen.filter((p) => p >= first && p <= last).map((p) => [p, pages.value.get(p)!]))
    for (let page = first; page <= last; page++) void fetchPage(page)
  }

  watch(filter, () => renew(false), { immediate: true })
  watch(change, () => renew(true))

  const row = (i: number): CellRow | undefined => pages.value.get(Math.floor(i / PAGE))?.[i % PAGE]

  return { total, problem, look, row, loaded: computed(() => pages.value.size > 0) }
}
