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
