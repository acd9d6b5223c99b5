// Moving a cell on a face: dragged with the pointer, or taken up with a click or key and put down with another.
import { ref, useTemplateRef } from 'vue'

/** Way a pointer goes before it drags. */
const DRAG_PX = 5

/** The face, as far as moving a cell needs it. */
interface Ground {
  /** Whether cells may be moved now. */
  free: () => boolean
  /** The cell that is taken up. */
  selected: () => number | null
  /** Where a cell stands. */
  site: (cell: number) => { column: number; row: number } | undefined
  pick: (cell: number) => void
  drop: (cell: number, column: number, row: number) => void
}

/** `drawing` is the name of the face's drawing in the template. */
export function useCellDrag(drawing: string, { free, selected, site, pick, drop }: Ground) {
  const svg = useTemplateRef<SVGSVGElement>(drawing)
  const held = ref<{ cell: number; x: number; y: number; dx: number; dy: number; moved: boolean } | null>(
    null,
  )

  function take(event: PointerEvent, cell: number): void {
    if (!free() || event.button !== 0) return
    held.value = { cell, x: event.clientX, y: event.clientY, dx: 0, dy: 0, moved: false }
    svg.value?.setPointerCapture(event.pointerId)
  }

  function carry(event: PointerEvent): void {
    const h = held.value
    const scale = svg.value?.getScreenCTM()?.a
    if (!h || !scale) return
    const [x, y] = [event.clientX - h.x, event.clientY - h.y]
    held.value = { ...h, dx: x / scale, dy: y / scale, moved: h.moved || Math.hypot(x, y) > DRAG_PX }
  }

  function release(event: PointerEvent): void {
    const h = held.value
    held.value = null
    svg.value?.releasePointerCapture(event.pointerId)
    if (!h) return
    if (!h.moved) {
      chosen(h.cell)
      return
    }
    const under = document
      .elementsFromPoint(event.clientX, event.clientY)
      .map((e) => e.closest<SVGElement>('[data-column]'))
      .find((e) => e && e.dataset.cell !== String(h.cell))
    if (under) drop(h.cell, Number(under.dataset.column), Number(under.dataset.row))
  }

  function letGo(): void {
    held.value = null
  }

  function key(event: KeyboardEvent, cell: number): void {
    if (!free() || (event.key !== 'Enter' && event.key !== ' ')) return
    event.preventDefault()
    chosen(cell)
  }

  /** The cell that is taken up changes places with this one; without one this is taken up. */
  function chosen(cell: number): void {
    const up = selected()
    if (up === null || up === cell) pick(cell)
    else {
      const there = site(cell)
      if (there) drop(up, there.column, there.row)
    }
  }

  function putOnSite(column: number, row: number): void {
    const up = selected()
    if (up !== null) drop(up, column, row)
  }

  const shift = (cell: number) =>
    held.value?.cell === cell && held.value.moved ? `translate(${held.value.dx} ${held.value.dy})` : undefined

  return { take, carry, release, letGo, key, putOnSite, shift }
}
