// Rows of the stock, fetched a page at a time as they come into view.
import { ref, shallowRef, watch } from 'vue'
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
  const coming = new Map<number, Promise<void>>()

  function fetchPage(page: number): Promise<void> {
    const under = coming.get(page) ?? askFor(page)
    coming.set(page, under)
    void under.finally(() => coming.get(page) === under && coming.delete(page))
    return under
  }

  async function askFor(page: number): Promise<void> {
    const number = asked
    const answer = await api.cells({ ...filter.value, offset: page * PAGE, limit: PAGE })
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

  /** So many rows from one on, fetched if they are not there; null when one cannot be had. */
  async function rows(first: number, count: number): Promise<CellRow[] | null> {
    for (let page = Math.floor(first / PAGE); page * PAGE < first + count; page++) {
      if (!pages.value.has(page)) await fetchPage(page)
    }
    const found = Array.from({ length: count }, (_, i) => row(first + i))
    return found.every((r) => r !== undefined) ? found : null
  }

  return { total, problem, look, row, rows }
}
