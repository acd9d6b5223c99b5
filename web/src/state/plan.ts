// The plan on the bench: opened, edited, undone, saved by itself; and what core says of it as it stands.
import { computed, ref, shallowRef } from 'vue'
import { api } from '../api/client'
import type {
  Acceptance,
  Assessment,
  Change,
  Figure,
  OpenPlan,
  Plan,
  Problem,
  Stage,
  StageReport,
} from '../api/types'
import { newKey } from '../api/key'
import { type Draft, draftOf, dropDraft, keepDraft } from './drafts'
import { kept, valueAt, withChanges } from './pointer'
import { figuresFirst } from './questions'
import { turns } from './turns'

/** Quiet time after an edit before it is saved. */
const PAUSE_MS = 900
/** How often a save is tried again while the database or the program is away. */
const RETRY_MS = 3000

const plan = shallowRef<Plan | null>(null)
const assessment = shallowRef<Assessment | null>(null)
/** The plan that the assessment is of. */
const assessed = shallowRef<Plan | null>(null)
/** What stands in the way: bad fields of the plan, a plan that cannot be opened. */
const problem = shallowRef<Problem | null>(null)
/** Why the plan is not saved although it should be: the database or the program is away. */
const away = shallowRef<Problem | null>(null)
/** Another save came between: what is stored now. */
const conflict = shallowRef<OpenPlan | null>(null)
const id = ref('')
const revision = ref(0)
const writes = ref(0)
const saving = ref(false)
const past = shallowRef<Plan[]>([])
const future = shallowRef<Plan[]>([])
const saved = shallowRef<Plan | null>(null)
/** Figures before the last edit, for the nameplate to show old and new. */
const before = shallowRef<Map<string, number>>(new Map())

const changed = computed(() => plan.value !== saved.value)

const assessing = turns()
let timer = 0
/** Saves that were sent from this revision and edit and not answered: one of them may be what is stored. */
let unanswered: { key: string; plan: Plan }[] = []
/** Keys of saves that this browser sent before the page was loaded again, and that may still arrive. */
let fromBefore: string[] = []

const draft = (of: Plan): Draft => ({
  plan: of,
  revision: revision.value,
  edit: writes.value,
  keys: [...fromBefore, ...unanswered.map((sent) => sent.key)],
})

async function assess(): Promise<void> {
  if (!plan.value) return
  const isLast = assessing.take()
  const now = plan.value
  const answer = await figuresFirst(now)
  if (!isLast()) return
  if (answer.ok) {
    if (assessment.value) before.value = new Map(assessment.value.figures.map((f) => [f.id, f.value]))
    // Figures and findings that stay are not drawn again.
    assessment.value = kept(assessment.value, answer.value)
    assessed.value = takeOver(now, answer.value.follows)
    problem.value = null
  } else if (answer.problem.status === 0) {
    away.value = answer.problem
    saveSoon(RETRY_MS)
  } else {
    problem.value = answer.problem
  }
}

/** Takes over what core says follows from what was typed: it is part of the same edit, not one of its own. */
function takeOver(now: Plan, follows: Change[]): Plan {
  const due = follows.filter((change) => !isIdle(now, change))
  if (!due.length) return now
  const next = withChanges(now, due)
  plan.value = next
  // What was stored has been through core: it has all that follows already.
  if (saved.value === now) saved.value = next
  else keepDraft(id.value, draft(next))
  return next
}

function take(opened: OpenPlan): void {
  plan.value = opened.plan
  saved.value = opened.plan
  id.value = opened.id
  revision.value = opened.revision
  writes.value = opened.edit
  unanswered = []
  fromBefore = []
  past.value = []
  future.value = []
  conflict.value = null
  away.value = null
}

const opening = turns()

async function open(wanted: string): Promise<boolean> {
  const isLast = opening.take()
  clearTimeout(timer)
  plan.value = null
  assessment.value = null
  before.value = new Map()
  const answer = await api.plan(wanted)
  // Another plan was opened meanwhile: this one comes too late.
  if (!isLast()) return false
  if (!answer.ok) {
    problem.value = answer.problem
    return false
  }
  problem.value = null
  take(answer.value)
  takeDraft(answer.value)
  await assess()
  return true
}

/** Goes on with work that this browser kept because it could not be saved. */
function takeDraft(stored: OpenPlan): void {
  const kept = draftOf(stored.id)
  if (!kept) return
  plan.value = kept.plan
  fromBefore = kept.keys ?? []
  const own = !!stored.key && !!kept.keys?.includes(stored.key)
  if (own || (kept.revision === stored.revision && kept.edit === stored.edit)) saveSoon(PAUSE_MS)
  else conflict.value = stored
}

/** Another tab may have saved while this one lay in the background: an unchanged page follows. */
async function refresh(): Promise<void> {
  if (!plan.value || changed.value || saving.value) return
  const answer = await api.plan(id.value)
  if (!answer.ok || changed.value || saving.value) return
  const { revision: r, edit: e } = answer.value
  if (r === revision.value && e === writes.value) return
  take(answer.value)
  await assess()
}

function put(next: Plan): void {
  plan.value = next
  // First, so that core works while the rest is done.
  void assess()
  if (next === saved.value) dropDraft(id.value)
  else keepDraft(id.value, draft(next))
  saveSoon(PAUSE_MS)
}

/** Whether a change leaves the plan as it is: a field that is left without a word typed. */
const isIdle = (of: Plan, { at, value }: Change): boolean =>
  JSON.stringify(valueAt(of, at)) === JSON.stringify(value)

/** Makes changes as one step that can be undone. */
function edit(changes: Change[]): void {
  const now = plan.value
  if (!now || changes.every((change) => isIdle(now, change))) return
  past.value = [...past.value.slice(-199), now]
  future.value = []
  put(withChanges(now, changes))
}

function step(from: typeof past, to: typeof past): void {
  const there = from.value.at(-1)
  if (!there || !plan.value) return
  to.value = [...to.value, plan.value]
  from.value = from.value.slice(0, -1)
  put(there)
}

function saveSoon(after: number): void {
  clearTimeout(timer)
  timer = window.setTimeout(() => void save(), after)
}

/** Saves now; as a revision of its own where it must stand apart in the history. */
async function save(apart = false): Promise<boolean> {
  clearTimeout(timer)
  if (!plan.value || conflict.value) return false
  if (!changed.value && !apart) {
    dropDraft(id.value)
    return true
  }
  if (saving.value) {
    saveSoon(PAUSE_MS)
    return false
  }
  saving.value = true
  const [sent, to] = [plan.value, id.value]
  const waiting = unanswered.find((s) => s.plan === sent) ?? { key: newKey(), plan: sent }
  unanswered = [...unanswered.filter((s) => s !== waiting), waiting]
  keepDraft(to, draft(sent))
  const { key } = waiting
  const answer = await api.save(to, { revision: revision.value, edit: writes.value, apart, key, plan: sent })
  saving.value = false
  // Another plan was opened meanwhile: what is kept of this one stays with it.
  if (to !== id.value) return answer.ok
  if (answer.ok) {
    revision.value = answer.value.revision
    writes.value = answer.value.edit
    saved.value = sent
    away.value = null
    unanswered = []
    fromBefore = []
    if (changed.value) {
      keepDraft(to, draft(plan.value))
      saveSoon(PAUSE_MS)
    } else dropDraft(to)
    return true
  }
  const current = answer.problem.current as OpenPlan | null | undefined
  const own = unanswered.find((s) => s.key === current?.key)
  const before = !!current?.key && fromBefore.includes(current.key)
  if (answer.problem.status === 409 && current && (own || before)) {
    // An earlier save of this browser came through after all, only its answer was lost, with the page perhaps: go on from there.
    revision.value = current.revision
    writes.value = current.edit
    saved.value = own?.plan ?? current.plan
    unanswered = []
    fromBefore = []
    return save(apart)
  }
  if (answer.problem.status === 409 && current) conflict.value = current
  else if (answer.problem.status === 0 || answer.problem.status === 503) {
    away.value = answer.problem
    saveSoon(RETRY_MS)
  } else problem.value = answer.problem
  return false
}

/** Ends a conflict. Both versions end up in the history; the one chosen is the newest. */
async function resolve(mine: boolean): Promise<void> {
  const stored = conflict.value
  if (!stored || !plan.value) return
  conflict.value = null
  revision.value = stored.revision
  writes.value = stored.edit
  if (!(await save(true)) || mine) return
  plan.value = stored.plan
  past.value = []
  future.value = []
  if (await save(true)) await assess()
}

/** Puts an older revision in place of the plan, as a new revision; it can be undone like any edit. */
async function goBackTo(older: Plan): Promise<void> {
  if (!plan.value) return
  await save()
  past.value = [...past.value.slice(-199), plan.value]
  future.value = []
  plan.value = older
  void assess()
  await save(true)
}

/** Accepts a caution by name; the figure it rests on is remembered. */
function accept(acceptance: Acceptance): void {
  const others = plan.value?.accepted?.filter((a) => a.finding !== acceptance.finding) ?? []
  edit([{ at: '/accepted', value: [...others, acceptance] }])
}

/** Takes an acceptance back. */
function unaccept(finding: string): void {
  edit([{ at: '/accepted', value: plan.value?.accepted?.filter((a) => a.finding !== finding) ?? [] }])
}

const figures = computed(() => new Map(assessment.value?.figures.map((f) => [f.id, f])))

export function usePlan() {
  return {
    id,
    plan,
    assessment,
    /** Whether what is said of the plan is of the one before its last change. */
    stale: computed(() => assessment.value !== null && assessed.value !== plan.value),
    problem,
    away,
    conflict,
    revision,
    saving,
    before,
    changed,
    open,
    refresh,
    edit,
    save,
    resolve,
    goBackTo,
    accept,
    unaccept,
    set: (at: string, value: unknown): void => edit([{ at, value }]),
    at: (pointer: string): unknown => valueAt(plan.value, pointer),
    figure: (wanted: string): Figure | undefined => figures.value.get(wanted),
    stage: (wanted: Stage): StageReport | undefined =>
      assessment.value?.stages.find((s) => s.stage === wanted),
    undo: (): void => step(past, future),
    redo: (): void => step(future, past),
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    nodeIndex: (kind: string): number => plan.value?.nodes.findIndex((n) => n.kind === kind) ?? -1,
  }
}
