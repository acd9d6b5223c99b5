// The places of a plan that take a part: where it stands, which form draws it, what an empty one is.
import type { Plan } from '../api/types'
import { cellFields, nodeFields, stripFields, wireFields, type Field } from './partFields'

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
  /** A part of which only the name is known, as a chosen choice. */
  empty: () => unknown
}

const offer = (name: string) => ({ name, catalogue_id: null, price: null, arrives_days: null, mass_g: null })

const known = (value: number) => ({ value, how: 'stated', error: null, meter: null })

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

function emptyCell(plan: Plan): unknown {
  return {
    offer: offer('my cell'),
    chemistry: plan.packs[0]?.chemistry ?? 'li_ion',
    size: { shape: 'cylindrical', diameter_mm: 18.4, length_mm: 65.2 },
    origin: 'new',
    tested: false,
    rated_ah: 2.5,
    dcir_ohm: null,
    discharge_a: null,
    pulse_a: null,
    pulse_s: null,
    charge_a: null,
    full_v: null,
    end_v: null,
  }
}

function emptyStrip(plan: Plan): unknown {
  return {
    offer: offer('my strip'),
    metal: 'nickel',
    width_mm: 8,
    thickness_mm: 0.15,
    layers: 1,
    side_by_side: plan.packs[0]?.parallel ?? 1,
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

function emptyPart(kind: NodeKindName, plan: Plan): unknown {
  const title = `my ${kind.replace('cut_off', 'cut-off board').replace('connector', 'plug')}`
  const bare = { offer: offer(title) }
  switch (kind) {
    case 'fuse':
      return { ...bare, style: 'blade', rating_a: 10, dc_v: null, breaking_a: null }
    case 'switch':
      return { ...bare, continuous_a: null, dc_v: null, contact_ohm: null }
    case 'connector':
    case 'jack':
      return { ...bare, continuous_a: null, dc_v: null, keyed: null, live_pins_bare: null, contact_ohm: null }
    case 'board':
      return { ...bare, protects: { series: plan.packs[0]?.series ?? null, chemistry: null } }
    case 'converter':
      return { ...bare, converts: { topology: 'buck', output_v: 12, wired_in: false } }
    case 'cut_off':
      return { ...bare, cuts_off: { at_v: 12 } }
    case 'alarm':
      return { ...bare, alarms: { at_cell_v: 3.3 } }
    case 'charger':
      return { ...bare, charges: { kind: 'cc_cv', output_v: known(8.4), own_supply: true } }
    case 'supply':
      return { ...bare, supplies: { output_v: 5, output_a: 2 } }
  }
}
