// The plan on the bench: opened, edited, undone, saved; and what core says of it as it stands.
import { computed, ref, shallowRef } from 'vue'
import { api } from '../api/client'
import type { Assessment, Change, Figure, OpenPlan, Plan, Problem, Stage, StageReport } from '../api/types'
import { valueAt, withChanges } from './pointer'

const plan = shallowRef<Plan | null>(null)
const assessment = shallowRef<Assessment | null>(null)
/** What stands in the way: bad fields of the plan, a failed save, a server that is away. */
const problem = shallowRef<Problem | null>(null)
/** Another save came between: what is stored now. */
const conflict = shallowRef<OpenPlan | null>(null)
const id = ref('')
const revision = ref(0)
const saving = ref(false)
const past = shallowRef<Plan[]>([])
const future = shallowRef<Plan[]>([])
const saved = shallowRef<Plan | null>(null)
/** Figures before the last edit, for the nameplate to show old and new. */
const before = shallowRef<Map<string, number>>(new Map())

let asked = 0

async function assess(): Promise<void> {
  if (!plan.value) return
  const number = ++asked
  const answer = await api.assess(plan.value)
  if (number !== asked) return
  if (answer.ok) {
    if (assessment.value) before.value = new Map(assessment.value.figures.map((f) => [f.id, f.value]))
    assessment.value = answer.value
    problem.value = null
  } else {
    problem.value = answer.problem
  }
}

function take(opened: OpenPlan): void {
  plan.value = opened.plan
  saved.value = opened.plan
  id.value = opened.id
  revision.value = opened.revision
  past.value = []
  future.value = []
  conflict.value = null
}

async function open(wanted: string): Promise<boolean> {
  plan.value = null
  assessment.value = null
  before.value = new Map()
  const answer = await api.plan(wanted)
  if (!answer.ok) {
    problem.value = answer.problem
    return false
  }
  problem.value = null
  take(answer.value)
  await assess()
  return true
}

/** Makes changes as one step that can be undone. */
function edit(changes: Change[]): void {
  if (!plan.value) return
  past.value = [...past.value.slice(-199), plan.value]
  future.value = []
  plan.value = withChanges(plan.value, changes)
  void assess()
}

function step(from: typeof past, to: typeof past): void {
  const there = from.value.at(-1)
  if (!there || !plan.value) return
  to.value = [...to.value, plan.value]
  from.value = from.value.slice(0, -1)
  plan.value = there
  void assess()
}

async function save(): Promise<boolean> {
  if (!plan.value || saving.value) return false
  saving.value = true
  const sent = plan.value
  const answer = await api.save(id.value, revision.value, sent)
  saving.value = false
  if (answer.ok) {
    revision.value = answer.value.revision
    saved.value = sent
    problem.value = null
    return true
  }
  const current = answer.problem.current as OpenPlan | null | undefined
  if (answer.problem.status === 409 && current) conflict.value = current
  else problem.value = answer.problem
  return false
}

/** Ends a conflict: takes what is stored, or saves one's own on top of it. */
async function resolve(mine: boolean): Promise<void> {
  const stored = conflict.value
  if (!stored) return
  if (mine) {
    revision.value = stored.revision
    conflict.value = null
    await save()
  } else {
    take(stored)
    await assess()
  }
}

const figures = computed(() => new Map(assessment.value?.figures.map((f) => [f.id, f])))

export function usePlan() {
  return {
    plan,
    assessment,
    problem,
    conflict,
    revision,
    saving,
    before,
    open,
    edit,
    save,
    resolve,
    set: (at: string, value: unknown): void => edit([{ at, value }]),
    at: (pointer: string): unknown => valueAt(plan.value, pointer),
    figure: (wanted: string): Figure | undefined => figures.value.get(wanted),
    stage: (wanted: Stage): StageReport | undefined =>
      assessment.value?.stages.find((s) => s.stage === wanted),
    undo: (): void => step(past, future),
    redo: (): void => step(future, past),
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    changed: computed(() => plan.value !== saved.value),
    nodeIndex: (kind: string): number => plan.value?.nodes.findIndex((n) => n.kind === kind) ?? -1,
  }
}
