// What core says of the open plan, asked again whenever the plan changes; an answer that comes late is dropped.
import { shallowRef, watch, type ShallowRef } from 'vue'
import type { Answer } from '../api/client'
import type { Plan } from '../api/types'
import { usePlan } from './plan'

/** The latest answer; the first value until there is one. Asked again when what it is asked `by` changes as well. */
export function useAnswer<T>(
  ask: (plan: Plan) => Promise<Answer<T>>,
  first: T,
  by: () => unknown = () => null,
): ShallowRef<T> {
  const { plan } = usePlan()
  const latest = shallowRef(first) as ShallowRef<T>
  let asked = 0
  watch(
    [plan, by],
    async ([now]) => {
      if (!now) return
      const number = ++asked
      const answer = await ask(now)
      if (number === asked && answer.ok) latest.value = answer.value
    },
    { immediate: true },
  )
  return latest
}
