// What the panels of a page ask of one plan at one moment, sent as one.
import { api, type Answer } from '../api/client'
import type { About, AnswerTo, Plan, Question } from '../api/types'

interface Waiting {
  question: Question
  answered: (answer: Answer<unknown>) => void
}

let waiting = new Map<Plan, Waiting[]>()
let edit = 0

async function send(plan: Plan, asked: Waiting[]): Promise<void> {
  const answer = await api.answers(
    plan,
    ++edit,
    asked.map((one) => one.question),
  )
  asked.forEach((one, i) => {
    const reply = answer.ok ? answer.value.replies[i] : null
    if (!answer.ok) one.answered(answer)
    else if (reply?.answer) one.answered({ ok: true, value: reply.answer.answer })
    else if (reply?.problem) one.answered({ ok: false, problem: reply.problem })
  })
}

function sendAll(): void {
  const now = waiting
  waiting = new Map()
  now.forEach((asked, plan) => void send(plan, asked))
}

/** Asks a question about a plan, in one call with everything else that is asked about it at this moment. */
export function ask<A extends About>(
  plan: Plan,
  question: Extract<Question, { about: A }>,
): Promise<Answer<AnswerTo<A>>> {
  if (!waiting.size) setTimeout(sendAll)
  return new Promise((resolve) => {
    const one = { question, answered: resolve as Waiting['answered'] }
    waiting.set(plan, [...(waiting.get(plan) ?? []), one])
  })
}
