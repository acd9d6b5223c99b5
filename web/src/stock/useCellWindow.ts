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
  /** Rows that are in view. */
  const inView = new Set<number>()
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

  /** Says that a row has come into view: its page is fetched if it is not there. */
  function enter(at: number): void {
    inView.add(at)
    const page = Math.floor(at / PAGE)
    if (!pages.value.has(page)) void fetchPage(page)
  }

  /** Says that a row has left the view. */
  function leave(at: number): void {
    inView.delete(at)
  }

  /** Other cells or another order: from the top again. */
  function restart(): void {
    asked++
    coming.clear()
    pages.value = new Map()
    void fetchPage(0)
  }

  /** Fetches what is in view anew; what stood there stays until it comes. */
  function renew(): void {
    asked++
    coming.clear()
    const seen = new Set([...inView].map((at) => Math.floor(at / PAGE)))
    if (!seen.size) seen.add(0)
    pages.value = new Map([...pages.value].filter(([page]) => seen.has(page)))
    for (const page of seen) void fetchPage(page)
  }

  watch(filter, restart, { immediate: true })
  watch(change, renew)

  const row = (i: number): CellRow | undefined => pages.value.get(Math.floor(i / PAGE))?.[i % PAGE]

  /** So many rows from one on, fetched if they are not there; null when one cannot be had. */
  async function rows(first: number, count: number): Promise<CellRow[] | null> {
    for (let page = Math.floor(first / PAGE); page * PAGE < first + count; page++) {
      if (!pages.value.has(page)) await fetchPage(page)
    }
    const found = Array.from({ length: count }, (_, i) => row(first + i))
    return found.every((r) => r !== undefined) ? found : null
  }

  return { total, problem, enter, leave, row, rows }
}
