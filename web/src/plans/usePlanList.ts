// The list of plans: as many as are shown, in an order, by a name that is searched for.
import { computed, onMounted, ref, watch } from 'vue'
import { api } from '../api/client'
import type { ListQuery, PlanSummary, Problem } from '../api/types'
import { turns } from '../state/turns'

/** Plans shown at once; more on demand. */
export const PAGE = 100
export const orders = [
  { value: 'newest', title: 'last change' },
  { value: 'at_hand', title: 'what is at hand' },
  { value: 'price', title: 'what is left to spend' },
]

export function usePlanList() {
  const plans = ref<PlanSummary[] | null>(null)
  const problem = ref<Problem | null>(null)
  /** What the list is ordered by: the newest first is how it comes. */
  const order = ref<NonNullable<ListQuery['order']>>('newest')
  const search = ref('')
  const more = ref(false)
  /** A list this long is searched, not read. */
  const long = computed(() => !!search.value || (plans.value?.length ?? 0) > 12)

  const { take } = turns()
  /** Loads as many as are shown, or a page more; an answer that a later question overtook is dropped. */
  async function load(count: number): Promise<void> {
    const isLast = take()
    const query = { order: order.value, search: search.value.trim() || undefined }
    const found: PlanSummary[] = []
    more.value = true
    while (found.length < count && more.value) {
      const answer = await api.plans({ ...query, from: found.length, count: PAGE })
      if (!isLast()) return
      if (!answer.ok) {
        problem.value = answer.problem
        return
      }
      found.push(...answer.value)
      more.value = answer.value.length === PAGE
    }
    plans.value = found
    problem.value = null
  }

  const refresh = (): Promise<void> => load(Math.max(PAGE, plans.value?.length ?? 0))

  onMounted(refresh)
  watch(order, () => load(PAGE))
  let typing: ReturnType<typeof setTimeout> | undefined
  watch(search, () => {
    clearTimeout(typing)
    typing = setTimeout(() => load(PAGE), 200)
  })

  return { plans, problem, order, search, more, long, load, refresh }
}
