// Names and orders of the options; what each is worth was weighed by core.
import type { VoltageOption } from '../../api/types'
import { show } from '../../format/show'

export const optionTitle = (o: VoltageOption): string =>
  o.output_v ? `${o.name} ${show(o.output_v, 'v')}` : o.name

export type Order = 'best' | 'usable' | 'efficiency' | 'heat' | 'speed' | 'full'

export const orders: { value: Order; title: string }[] = [
  { value: 'best', title: 'best first' },
  { value: 'usable', title: 'most usable charge' },
  { value: 'efficiency', title: 'smallest loss' },
  { value: 'heat', title: 'least heat' },
  { value: 'speed', title: 'closest to the old speed' },
  { value: 'full', title: 'lowest voltage' },
]

const keys: Record<Exclude<Order, 'best'>, (o: VoltageOption) => number> = {
  usable: (o) => -(o.usable_share ?? -1),
  efficiency: (o) => -o.efficiency,
  heat: (o) => o.heat_w ?? 0,
  speed: (o) => Math.abs(o.speed_change ?? Infinity),
  full: (o) => o.full_v,
}

/** The options in an order; equal ones stay as core ranked them. */
export function ordered(options: VoltageOption[], order: Order): VoltageOption[] {
  if (order === 'best') return options
  const key = keys[order]
  return [...options].sort((a, b) => key(a) - key(b))
}

/** The three groups that options are shown in. */
export const groups = [
  { key: 'direct', title: 'Direct: the pack feeds the device', few: 4 },
  { key: 'regulated', title: 'Regulated: through a converter', few: 3 },
  { key: 'ready', title: 'Ready packs outside', few: 3 },
] as const

type Group = (typeof groups)[number]['key']

const groupOfPath: Record<VoltageOption['path'], Group> = {
  direct: 'direct',
  switched: 'direct',
  buck: 'regulated',
  boost: 'regulated',
  buck_boost: 'regulated',
  outside_pack: 'ready',
  tool_pack: 'ready',
}

export const groupOf = (o: VoltageOption): Group => groupOfPath[o.path]
