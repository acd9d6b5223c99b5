// Kinds of part and the places of a plan that take one, read from the program's table of figures.
import type { FieldSheet, Item, PartKind, PartSheet, Plan } from '../api/types'
import { useReference } from '../state/reference'
import { valueAt, withChanges } from '../state/pointer'

export interface Place {
  /** JSON pointer of the choice: open, none or chosen. */
  choice: string
  /** JSON pointer of the chosen part's figures. */
  part: string
  fields: FieldSheet[]
  /** A part of which only the name is known, as a chosen choice: a draft until its deciding figures are typed. */
  empty: () => unknown
  /** That part as a chosen choice; null where it is of another kind. */
  chosen: (part: Item['part']) => unknown
}

/** Every kind, in the order of the work. */
export const partSheets = (): PartSheet[] => useReference().reference.value?.parts ?? []

const sheetOf = (kind: PartKind) => partSheets().find((sheet) => sheet.kind === kind)

/** What a part cannot be without and has not yet, by name. */
export const wanting = (part: unknown, at: string, fields: FieldSheet[]): string[] =>
  fields.filter((field) => field.needed && valueAt(part, at + field.at) == null).map((field) => field.label)

/** A part of that kind of which nothing is known but its name and what the plan says already. */
function blank(kind: PartKind, plan: Plan | null): unknown {
  const sheet = sheetOf(kind)
  const said = (sheet?.fields ?? []).flatMap((field) => {
    const value = plan && field.from_plan ? valueAt(plan, field.from_plan) : undefined
    return value === undefined ? [] : [{ at: field.at, value }]
  })
  return withChanges(sheet?.blank ?? {}, said)
}

/** Places of the second pack: what stands there, and where. */
const OF_SECOND: Record<string, { kind: PartKind; choice: string }> = {
  'second-pack': { kind: 'pack', choice: '/feed/second/ready' },
  'second-guard': { kind: 'board', choice: '/feed/second/guard' },
  selector: { kind: 'switch', choice: '/feed/second/selector' },
}

/** The place of that name, or null: `cell`, `ready`, `strip`, one of the second pack, or the id of a node or run. */
export function placeOf(plan: Plan, name: string): Place | null {
  const runs = plan.runs.findIndex((r) => r.id === name)
  const nodes = plan.nodes.findIndex((n) => n.id === name)
  const kind = kindAt(plan, name)
  const sheet = kind && sheetOf(kind)
  if (!sheet) return null
  const holds = (choice: string, below: string, wrap: (body: unknown) => unknown): Place => ({
    choice,
    part: `${choice}/part${below}`,
    fields: sheet.fields,
    empty: () => ({ state: 'chosen', part: wrap(blank(sheet.kind, plan)) }),
    chosen: (part) =>
      part.kind === sheet.held_as
        ? { state: 'chosen', part: wrap((part as unknown as Record<string, unknown>)[part.kind]) }
        : null,
  })
  const second = nodes < 0 ? OF_SECOND[name] : undefined
  if (second?.kind === 'pack') return holds(second.choice, '', (body) => body)
  if (nodes >= 0 || second) {
    const type = sheet.held_as
    return holds(second?.choice ?? `/nodes/${nodes}/part`, `/${type}`, (body) => ({ type, [type]: body }))
  }
  return holds(runs >= 0 ? `/runs/${runs}/wire` : `/packs/0/${name}`, '', (body) => body)
}

function kindAt(plan: Plan, name: string): PartKind | null {
  const second = OF_SECOND[name]
  if (second && !plan.nodes.some((n) => n.id === name)) return plan.feed?.second ? second.kind : null
  if (name === 'cell' || name === 'strip') return name
  if (name === 'ready') return 'pack'
  if (plan.runs.some((r) => r.id === name)) return 'wire'
  const kind = plan.nodes.find((n) => n.id === name)?.kind
  if (!kind || kind === 'pack' || kind === 'device') return null
  return kind === 'jack' ? 'connector' : kind
}

/** Kinds of a part by what it holds: a module that does several things is several. */
function kindsOf(part: Item['part']): PartSheet[] {
  const does = (sheet: PartSheet) => !sheet.does || valueAt(part, `/${part.kind}/${sheet.does}`) != null
  return partSheets().filter((sheet) => sheet.held_as === part.kind && does(sheet))
}

/** What a part is, as one asks for it; a module that does several things goes by the first. */
export const kindOf = (part: Item['part']): PartKind | undefined => kindsOf(part)[0]?.kind

/** The figures of a part of the catalogue, with the pointer below which they stand: all that it does. */
export function fieldsOf(part: Item['part']): { at: string; fields: FieldSheet[] } {
  const all = kindsOf(part).flatMap((sheet) => sheet.fields)
  return {
    at: `/${part.kind}`,
    fields: all.filter((f, i) => all.findIndex((other) => other.at === f.at) === i),
  }
}

/** A part of the catalogue of which nothing is known but what it cannot be without. */
export function blankPart(kind: PartKind): Item['part'] {
  const heldAs = sheetOf(kind)?.held_as ?? kind
  return { kind: heldAs, [heldAs]: blank(kind, null) } as Item['part']
}
