// The places of a plan that take a part: where it stands, which form draws it, what an empty one is.
import type { Item, Plan } from '../api/types'
import { valueAt } from '../state/pointer'
import { cellFields, nodeFields, stripFields, wireFields, type Field } from './partFields'

/** What a part of the catalogue is, as one asks for it. */
export type PartKind = Exclude<NodeKindName, 'jack'> | 'cell' | 'strip' | 'wire'

export type NodeKindName =
  | 'board'
  | 'fuse'
  | 'switch'
  | 'connector'
  | 'jack'
  | 'converter'
  | 'cut_off'
  | 'alarm'
  | 'charger'
  | 'supply'

export interface Place {
  /** JSON pointer of the choice: open, none or chosen. */
  choice: string
  /** JSON pointer of the chosen part's figures. */
  part: string
  fields: Field[]
  /** A part of which only the name is known, as a chosen choice: a draft until its deciding figures are typed. */
  empty: () => unknown
}

const offer = (name: string) => ({ name, catalogue_id: null, price: null, arrives_days: null, mass_g: null })

/** Whether every figure that decides about a part is typed; its size counts as one. */
export function isWhole(part: unknown, at: string, fields: Field[]): boolean {
  return fields.every((field) => {
    const value = valueAt(part, at + field.at)
    if (field.kind === 'cell-size') return Object.values(value as object).every((side) => side !== null)
    return !('required' in field && field.required) || (value !== null && value !== undefined)
  })
}

/** The place of that name, or null: `cell`, `strip`, or the id of a node or run. */
export function placeOf(plan: Plan, name: string): Place | null {
  if (name === 'cell' || name === 'strip') {
    const choice = `/packs/0/${name}`
    const fields = name === 'cell' ? cellFields : stripFields
    const empty = name === 'cell' ? () => emptyCell(plan) : () => emptyStrip(plan)
    return { choice, part: `${choice}/part`, fields, empty: () => ({ state: 'chosen', part: empty() }) }
  }
  const run = plan.runs.findIndex((r) => r.id === name)
  if (run >= 0) {
    const choice = `/runs/${run}/wire`
    return {
      choice,
      part: `${choice}/part`,
      fields: wireFields,
      empty: () => ({ state: 'chosen', part: emptyWire() }),
    }
  }
  const index = plan.nodes.findIndex((n) => n.id === name)
  const node = plan.nodes[index]
  if (!node || node.kind === 'pack' || node.kind === 'device') return null
  const type = partType(node.kind)
  const choice = `/nodes/${index}/part`
  const body = emptyPart(node.kind, plan)
  return {
    choice,
    part: `${choice}/part/${type}`,
    fields: nodeFields[node.kind],
    empty: () => ({ state: 'chosen', part: { type, [type]: body } }),
  }
}

function partType(kind: NodeKindName): 'fuse' | 'switch' | 'connector' | 'module' {
  if (kind === 'fuse' || kind === 'switch') return kind
  return kind === 'connector' || kind === 'jack' ? 'connector' : 'module'
}

/** Hobby packs are pouches. */
const isPouch = (plan: Plan | null) => ['li_po', 'li_hv'].includes(plan?.packs[0]?.chemistry ?? '')

function emptyCell(plan: Plan | null): unknown {
  return {
    offer: offer('my cell'),
    chemistry: plan?.packs[0]?.chemistry ?? 'li_ion',
    size: isPouch(plan)
      ? { shape: 'pouch', thickness_mm: null, width_mm: null, length_mm: null }
      : { shape: 'cylindrical', diameter_mm: null, length_mm: null },
    origin: 'new',
    tested: false,
    rated_ah: null,
    dcir_ohm: null,
    discharge_a: null,
    pulse_a: null,
    pulse_s: null,
    charge_a: null,
    full_v: null,
    end_v: null,
  }
}

function emptyStrip(plan: Plan | null): unknown {
  return {
    offer: offer('my strip'),
    metal: 'nickel',
    width_mm: null,
    thickness_mm: null,
    layers: 1,
    side_by_side: plan?.packs[0]?.parallel ?? 1,
    length_mm: 20,
  }
}

function emptyWire(): unknown {
  return {
    offer: offer('my wire'),
    size: { standard: 'awg', awg: 18 },
    insulation: 'silicone',
    bundled: false,
  }
}

function emptyPart(kind: NodeKindName, plan: Plan | null): unknown {
  const title = `my ${kind.replace('cut_off', 'cut-off board').replace('connector', 'plug')}`
  const bare = { offer: offer(title) }
  switch (kind) {
    case 'fuse':
      return { ...bare, style: 'blade', rating_a: null, dc_v: null, breaking_a: null }
    case 'switch':
      return { ...bare, continuous_a: null, dc_v: null, contact_ohm: null }
    case 'connector':
    case 'jack':
      return { ...bare, continuous_a: null, dc_v: null, keyed: null, live_pins_bare: null, contact_ohm: null }
    case 'board':
      return { ...bare, protects: { series: plan?.packs[0]?.series ?? null, chemistry: null } }
    case 'converter':
      return { ...bare, converts: { topology: 'buck', output_v: null, wired_in: false } }
    case 'cut_off':
      return { ...bare, cuts_off: { at_v: null } }
    case 'alarm':
      return { ...bare, alarms: { at_cell_v: null } }
    case 'charger':
      return { ...bare, charges: { kind: 'cc_cv', output_v: null, own_supply: true } }
    case 'supply':
      return { ...bare, supplies: { output_v: null, output_a: null } }
  }
}

/** What a part is, by what it does; a module that does several goes by the first. */
export function kindOf(part: Item['part']): PartKind {
  if (part.kind !== 'module') return part.kind
  const { module } = part
  if (module.protects) return 'board'
  if (module.charges) return 'charger'
  if (module.converts) return 'converter'
  if (module.cuts_off) return 'cut_off'
  return module.alarms ? 'alarm' : 'supply'
}

/** The figures of a part of the catalogue, with the pointer below which they stand: all that it does. */
export function fieldsOf(part: Item['part']): { at: string; fields: Field[] } {
  const at = `/${part.kind}`
  if (part.kind === 'cell') return { at, fields: cellFields }
  if (part.kind === 'strip') return { at, fields: stripFields }
  if (part.kind === 'wire') return { at, fields: wireFields }
  if (part.kind !== 'module') return { at, fields: nodeFields[part.kind] }
  const { module } = part
  const does = [
    module.protects && nodeFields.board,
    module.charges && nodeFields.charger,
    module.converts && nodeFields.converter,
    module.cuts_off && nodeFields.cut_off,
    module.alarms && nodeFields.alarm,
    module.supplies && nodeFields.supply,
  ]
  const all = does.flatMap((fields) => fields || [])
  return { at, fields: all.filter((f, i) => all.findIndex((other) => other.at === f.at) === i) }
}

/** A part of that kind of which nothing is known but what it cannot be without. */
export function blankPart(kind: PartKind): Item['part'] {
  if (kind === 'cell') return { kind, cell: emptyCell(null) } as Item['part']
  if (kind === 'strip') return { kind, strip: emptyStrip(null) } as Item['part']
  if (kind === 'wire') return { kind, wire: emptyWire() } as Item['part']
  const type = partType(kind)
  return { kind: type, [type]: emptyPart(kind, null) } as unknown as Item['part']
}

/** Kinds of part by their name, in the order of the work. */
export const partKinds: { value: PartKind; title: string; many: string }[] = [
  { value: 'cell', title: 'cell', many: 'Cells' },
  { value: 'strip', title: 'strip', many: 'Strips' },
  { value: 'board', title: 'board', many: 'Boards' },
  { value: 'cut_off', title: 'cut-off board', many: 'Cut-off boards' },
  { value: 'alarm', title: 'alarm', many: 'Alarms' },
  { value: 'fuse', title: 'fuse', many: 'Fuses' },
  { value: 'charger', title: 'charger', many: 'Chargers' },
  { value: 'supply', title: 'supply', many: 'Supplies' },
  { value: 'converter', title: 'converter', many: 'Converters' },
  { value: 'wire', title: 'wire', many: 'Wires' },
  { value: 'connector', title: 'plug or jack', many: 'Plugs and jacks' },
  { value: 'switch', title: 'switch', many: 'Switches' },
]
