// The part of a drawing round what a step is about.
import type { Diagram } from '../api/types'

type Drawing = Pick<Diagram['drawing'], 'blocks' | 'left_mm' | 'top_mm' | 'width_mm' | 'height_mm'>
export type Crop = [number, number, number, number]

/** Room round the blocks, so that the wires at them are seen. */
const AROUND_MM = 16
/** Never closer than this: the smallest words stay in proportion. */
const LEAST_MM = [100, 48] as const

/** The box round these blocks, within the drawing; null where none of them is drawn. */
export function around(drawing: Drawing, ids: string[]): Crop | null {
  const found = drawing.blocks.filter((b) => ids.includes(b.id)).map((b) => b.reach_mm)
  if (!found.length) return null
  const along = (start: 0 | 1): [number, number] => {
    const size = start === 0 ? 2 : 3
    const [from, whole] =
      start === 0 ? [drawing.left_mm, drawing.width_mm] : [drawing.top_mm, drawing.height_mm]
    let low = Math.min(...found.map((r) => r[start]!)) - AROUND_MM
    let high = Math.max(...found.map((r) => r[start]! + r[size]!)) + AROUND_MM
    const more = Math.max(LEAST_MM[start] - (high - low), 0) / 2
    ;[low, high] = [low - more, high + more]
    low = Math.max(low, from)
    return [low, Math.min(high, from + whole) - low]
  }
  const [left, width] = along(0)
  const [top, height] = along(1)
  return [left, top, width, height]
}
