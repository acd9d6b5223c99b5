// What flows in the strips and cells of the brick. Asked anew when the plan changes; until the answer has come, what is
// shown is of the plan before, and says so.
import { computed, ref, shallowRef, watch } from 'vue'
import { api } from '../../api/client'
import type { NetworkSheet, Plan } from '../../api/types'
import { usePlan } from '../../state/plan'

export function useNetwork() {
  const { plan } = usePlan()
  const sheet = shallowRef<NetworkSheet | null>(null)
  /** The plan that the sheet was reckoned for. */
  const of = shallowRef<Plan | null>(null)
  /** After which time a level without end is looked at; null is the run time. */
  const afterS = ref<number | null>(null)
  let asked = 0

  async function solve(): Promise<void> {
    const from = plan.value
    if (!from) return
    const number = ++asked
    const answer = await api.network(from, afterS.value)
    if (number !== asked || !answer.ok) return
    sheet.value = answer.value
    of.value = from
  }
  watch([plan, afterS], solve, { immediate: true })

  const network = computed(() => sheet.value?.network ?? null)
  const strips = computed(() => sheet.value?.strips ?? [])
  const stale = computed(() => sheet.value !== null && of.value !== plan.value)
  return { network, strips, stale, afterS }
}
