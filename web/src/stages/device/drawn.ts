// How a draw is told: as a current, a power or a resistance.
import type { Draw, Known } from '../../api/types'

/** Placeholders, marked assumed: what hangs on them is a caution that asks for the measurement. */
export const draws = {
  current: { title: 'current', field: 'value_a', range: 'current', unit: 'a', first: 1 },
  power: { title: 'power', field: 'value_w', range: 'power', unit: 'w', first: 10 },
  resistance: { title: 'resistance', field: 'value_ohm', range: 'load_ohm', unit: 'ohm', first: 10 },
} as const
export type DrawKind = keyof typeof draws
export const drawItems = Object.entries(draws).map(([value, { title }]) => ({ value, title }))

export function valueOf(draw: Draw): Known {
  return (draw as unknown as Record<string, Known>)[draws[draw.as].field] as Known
}

/** A draw that nobody measured yet. */
export function firstDraw(kind: DrawKind, value: number = draws[kind].first): Draw {
  const known = { value, how: 'assumed', error: null, meter: null }
  return { as: kind, [draws[kind].field]: known } as unknown as Draw
}
