// What core says of the open plan, asked again whenever the plan or the question changes. A late answer is dropped; one that
// still stands after its plan has changed is marked, and so is one that could not be had.
import { computed, shallowRef, watch, type ComputedRef, type ShallowRef } from 'vue'
import type { Answer } from '../api/client'
import type { About, AnswerTo, Plan, Problem, Question } from '../api/types'
import { usePlan } from './plan'
import { kept } from './pointer'
import { ask } from './questions'
import { turns } from './turns'

export interface Asked<T> {
  /** The latest answer; null until there is one, and when another plan is opened. */
  answer: ShallowRef<T | null>
  /** Whether the answer is of the plan before its last change. */
  stale: ComputedRef<boolean>
  /** Why there is no answer for the plan as it stands. */
  problem: ShallowRef<Problem | null>
}

/** An answer that is had in another way than by one question. `by` says what it is asked by, null that it is not asked. */
export function useAsked<T>(had: (plan: Plan) => Promise<Answer<T>>, by: () => unknown = () => ''): Asked<T> {
  const { id, plan } = usePlan()
  const answer = shallowRef<T | null>(null)
  const problem = shallowRef<Problem | null>(null)
  /** The plan and the question that were answered, or refused. */
  const of = shallowRef<[Plan, unknown] | null>(null)
  const { take, drop } = turns()

  async function look(now: Plan, question: unknown): Promise<void> {
    const isLast = take()
    const found = await had(now)
    if (!isLast()) return
    problem.value = found.ok ? null : found.problem
    if (!found.ok) return
    answer.value = kept(answer.value, found.value)
    of.value = [now, question]
  }

  watch(id, () => {
    drop()
    answer.value = null
    problem.value = null
  })
  watch(
    [plan, by],
    ([now, question]) => {
      drop()
      if (now && question !== null) void look(now, question)
    },
    { immediate: true },
  )
  const stale = computed(
    () => answer.value !== null && (of.value?.[0] !== plan.value || of.value?.[1] !== by()),
  )
  return { answer, stale, problem }
}

/** The answer to a question; `null` does not ask. */
export function useAnswer<A extends About>(
  question: () => Extract<Question, { about: A }> | null,
): Asked<AnswerTo<A>> {
  const asked = (now: Plan) => ask<A>(now, question() as Extract<Question, { about: A }>)
  return useAsked(asked, () => question() && JSON.stringify(question()))
}
