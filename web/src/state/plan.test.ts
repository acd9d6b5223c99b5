import { beforeEach, expect, test, vi } from 'vitest'
import { keepDraft } from './drafts'
import { usePlan } from './plan'

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
const plan = (name: string) => ({ name, nodes: [], packs: [] }) as never

let stored = { id: 'lamp', revision: 1, edit: 0, key: null as string | null, plan: plan('lamp') }
let puts: { revision: number; edit: number }[] = []

beforeEach(() => {
  const kept = new Map<string, string>()
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => void kept.set(key, text),
    removeItem: (key: string) => void kept.delete(key),
  })
  stored = { id: 'lamp', revision: 1, edit: 0, key: null, plan: plan('lamp') }
  puts = []
  vi.stubGlobal('fetch', async (request: Request) => {
    if (request.method === 'GET') return json(stored)
    if (request.method === 'PUT') {
      const body = (await request.json()) as { revision: number; edit: number; plan: never; key: string }
      puts.push({ revision: body.revision, edit: body.edit })
      if (body.edit !== stored.edit)
        return json({ status: 409, title: 'Saved elsewhere', detail: '', errors: [], current: stored }, 409)
      stored = { ...stored, edit: stored.edit + 1, key: body.key, plan: body.plan }
      return json({ revision: stored.revision, edit: stored.edit })
    }
    const assessment = { figures: [], findings: [], stages: [], follows: [] }
    return json({ edit: 1, replies: [{ answer: { about: 'assessment', answer: assessment } }] })
  })
})

/** A page is loaded again while its save is on its way; the save arrives after the page has read what was stored. */
async function reloaded(arrivesWith: string) {
  keepDraft('lamp', { plan: plan('lamp, changed twice'), revision: 1, edit: 0, keys: ['sent-before'] })
  const { open, save, conflict } = usePlan()
  await open('lamp')
  stored = { ...stored, edit: 1, key: arrivesWith, plan: plan('lamp, changed once') }
  return { saved: await save(), conflict: conflict.value }
}

test('a save of this browser that arrives after a reload is no save from elsewhere', async () => {
  expect(await reloaded('sent-before')).toEqual({ saved: true, conflict: null })
  expect(puts).toEqual([
    { revision: 1, edit: 0 },
    { revision: 1, edit: 1 },
  ])
  expect(stored.plan).toMatchObject({ name: 'lamp, changed twice' })
})

test('a save of another browser still is', async () => {
  const { saved, conflict } = await reloaded('of-another')
  expect([saved, conflict?.edit]).toEqual([false, 1])
  expect(stored.plan).toMatchObject({ name: 'lamp, changed once' })
})
