// What the page asks of the plan as it stands. The figures of an edit go out at once and alone, since everybody looks at them;
// what the panels ask follows as one call when they are there: the slowest panel keeps no figure waiting.
import { api, type Answer } from '../api/client'
import type { About, AnswerTo, Plan, Question } from '../api/types'

interface Waiting {
  question: Question
  answered: (answer: Answer<unknown>) => void
}

/** Questions that wait to be sent, all about one plan: an answer about the plan before it would be dropped. */
let waiting: Waiting[] = []
let about: Plan | null = null
/** The figures that were asked for last. */
let figures: Promise<unknown> = Promise.resolve()
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

async function sendWaiting(): Promise<void> {
  for (let after = null; after !== figures;) {
    after = figures
    await after
  }
  const [plan, asked] = [about, waiting]
  waiting = []
  if (plan) void send(plan, asked)
}

/** The figures of a plan that somebody thinks of. */
export const figuresOf = (plan: Plan): Promise<Answer<AnswerTo<'assessment'>>> =>
  new Promise((resolve) => {
    void send(plan, [{ question: { about: 'assessment' }, answered: resolve as Waiting['answered'] }])
  })

/** The figures of the plan as it now stands: everything else that is asked waits for them. */
export function figuresFirst(plan: Plan): Promise<Answer<AnswerTo<'assessment'>>> {
  const answer = figuresOf(plan)
  figures = answer
  return answer
}

/** Asks a question about a plan, in one call with everything else that is asked about it at this moment. Never answered where
 * another plan is asked about before it is sent. */
export function ask<A extends About>(
  plan: Plan,
  question: Extract<Question, { about: A }>,
): Promise<Answer<AnswerTo<A>>> {
  if (!waiting.length) void sendWaiting()
  if (plan !== about) waiting = []
  about = plan
  return new Promise((resolve) => waiting.push({ question, answered: resolve as Waiting['answered'] }))
}
