import { expect, it } from 'vitest'
import { around } from './crop'

const block = (id: string, reach_mm: [number, number, number, number]) => ({
  id,
  reach_mm,
  strokes: [],
  undecided: false,
})
const drawing = {
  left_mm: 0,
  top_mm: 0,
  width_mm: 300,
  height_mm: 200,
  blocks: [block('fuse', [100, 80, 20, 10]), block('pack', [0, 20, 40, 160])],
}

it('shows what a step is about with room round it, never beyond the drawing', () => {
  const [left, top, width, height] = around(drawing, ['fuse'])!
  expect([left <= 84, top <= 64, width >= 100, height >= 48]).toEqual([true, true, true, true])
  expect(around(drawing, ['pack', 'fuse'])).toEqual([0, 4, 136, 192])
  expect(around(drawing, ['nothing'])).toBeNull()
})
