import { beforeEach, expect, test, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'
import type { Plan } from '../api/types'
import { useAnswer } from './answer'
import { usePlan } from './plan'

interface Sent {
  url: string
  body: { plan: Plan; questions: { about: string }[] }
  answer: (of: (about: string) => unknown) => void
  fail: () => void
}
let sent: Sent[] = []

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })

beforeEach(() => {
  sent = []
  const answered = async (request: Request) => {
    const url = new URL(request.url).pathname
    if (request.method === 'GET') {
      const id = url.split('/').at(-1)
      return json({ id, revision: 1, edit: 0, plan: { name: id, nodes: [], packs: [] } })
    }
    const body = (await request.json()) as Sent['body']
    if (request.method === 'PUT') return json({ revision: 2, edit: 0 })
    return new Promise<Response>((resolve, reject) => {
      sent.push({
        url,
        body,
        answer: (of) =>
          resolve(
            json({
              edit: 1,
              replies: body.questions.map((q) => ({ answer: { about: q.about, answer: of(q.about) } })),
            }),
          ),
        fail: () => reject(new Error('away')),
      })
    })
  }
  vi.stubGlobal('fetch', vi.fn(answered))
})

const settle = () => new Promise((resolve) => setTimeout(resolve, 20))
const assessment = () => ({ figures: [], findings: [], stages: [], follows: [] })
const abouts = () => sent.map((one) => one.body.questions.map((q) => q.about))

test('figures go first and alone, what several panels ask follows as one call, and late answers are dropped', async () => {
  const { open, set } = usePlan()
  const scope = effectScope()
  const opening = open('first')
  await settle()
  sent.splice(0).forEach((one) => one.answer(assessment))
  await opening

  const [bill, later] = scope.run(() => [
    useAnswer(() => ({ about: 'bill' })),
    useAnswer(() => ({ about: 'later' })),
  ])!
  await settle()
  expect(abouts()).toEqual([['bill', 'later']])
  const calls = vi.mocked(fetch).mock.calls.length

  set('/name', 'second')
  // Before anything is drawn again.
  expect(vi.mocked(fetch).mock.calls.length).toBe(calls + 1)
  await settle()
  expect(abouts()).toEqual([['bill', 'later'], ['assessment']])
  sent[1]!.answer(assessment)
  await settle()
  expect(abouts().slice(2)).toEqual([['bill', 'later']])
  // The new plan is answered first, the old one afterwards: it must not come through.
  sent[2]!.answer((about) => `${about} of the second`)
  await settle()
  sent[0]!.answer((about) => `${about} of the first`)
  await settle()
  expect([bill!.answer.value, later!.answer.value]).toEqual(['bill of the second', 'later of the second'])
  expect([bill!.stale.value, bill!.problem.value]).toEqual([false, null])
  scope.stop()
})

test('of edits in quick succession only the last is asked about by the panels', async () => {
  const { set } = usePlan()
  const scope = effectScope()
  const bill = scope.run(() => useAnswer(() => ({ about: 'bill' })))!
  await settle()
  sent.splice(0).forEach((one) => one.answer(() => 'the bill'))
  await settle()
  set('/name', '1')
  await settle()
  set('/name', '12')
  await settle()
  expect(sent.map((one) => [one.body.plan.name, one.body.questions.length])).toEqual([
    ['1', 1],
    ['12', 1],
  ])
  sent.splice(0).forEach((one) => one.answer(assessment))
  await settle()
  expect(sent.map((one) => [one.body.plan.name, one.body.questions[0]?.about])).toEqual([['12', 'bill']])
  sent[0]!.answer(() => 'the bill of 12')
  await settle()
  expect([bill.answer.value, bill.stale.value]).toEqual(['the bill of 12', false])
  scope.stop()
})

test('an answer that outlives its plan is marked, and why there is no new one is told', async () => {
  const { set, stale, away } = usePlan()
  const scope = effectScope()
  const bill = scope.run(() => useAnswer(() => ({ about: 'bill' })))!
  await settle()
  sent.splice(0).forEach((one) => one.answer(() => 'the bill'))
  await settle()
  expect([bill.answer.value, bill.stale.value]).toEqual(['the bill', false])

  set('/name', 'third')
  await nextTick()
  expect(bill.stale.value).toBe(true)
  for (const about of ['assessment', 'bill']) {
    await settle()
    expect(abouts()).toEqual([[about]])
    sent.splice(0).forEach((one) => one.fail())
  }
  await settle()
  expect(bill.answer.value).toBe('the bill')
  expect([bill.stale.value, bill.problem.value?.status]).toEqual([true, 0])
  expect([stale.value, away.value?.status]).toEqual([true, 0])
  scope.stop()
})

test('of two plans opened one after the other the last one stays, whichever comes first', async () => {
  const { open, plan, id } = usePlan()
  const answers = new Map<string, () => void>()
  vi.stubGlobal('fetch', async (request: Request) => {
    const wanted = new URL(request.url).pathname.split('/').at(-1)!
    const found = json({ id: wanted, revision: 1, edit: 0, plan: { name: wanted, nodes: [], packs: [] } })
    if (request.method !== 'GET')
      return json({ edit: 1, replies: [{ answer: { about: 'assessment', answer: assessment() } }] })
    return new Promise<Response>((resolve) => answers.set(wanted, () => resolve(found)))
  })
  const [slow, quick] = [open('slow'), open('quick')]
  await settle()
  answers.get('quick')!()
  await quick
  answers.get('slow')!()
  expect(await slow).toBe(false)
  expect([id.value, plan.value?.name]).toEqual(['quick', 'quick'])
})

test('what follows from an edit is taken over with it, and undone with it', async () => {
  const { set, undo, at, canUndo, stale } = usePlan()
  set('/name', 'fourth')
  await settle()
  const told = () => ({ ...assessment(), follows: [{ at: '/currency', value: 'kr' }] })
  sent.splice(0).forEach((one) => one.answer(told))
  await settle()
  expect([at('/name'), at('/currency'), stale.value]).toEqual(['fourth', 'kr', false])
  // It asks for no assessment of its own, and is no step of its own.
  expect(sent.length).toBe(0)
  expect(canUndo.value).toBe(true)
  undo()
  await settle()
  expect(at('/currency')).not.toBe('kr')
})
