// The sections of the page that is open: the rail leads to them, and what was folded stays folded while one goes about.
import { reactive, shallowRef } from 'vue'

export interface Section {
  name: string
  title: string
  root: HTMLDetailsElement
}

/** In the order in which they stand on the page. */
export const sections = shallowRef<Section[]>([])

/** What somebody folded or opened; else each is as its page has it. */
export const folded = reactive(new Map<string, boolean>())

const comesFirst = (a: Section, b: Section) =>
  a.root.compareDocumentPosition(b.root) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1

export function enlist(section: Section): void {
  sections.value = [...sections.value, section].sort(comesFirst)
}

export function strike(name: string): void {
  sections.value = sections.value.filter((s) => s.name !== name)
}

/** Opens every fold that an element is in. */
export function openAround(element: Element): void {
  const folds: HTMLDetailsElement[] = []
  for (let at = element.closest('details'); at; at = at.parentElement?.closest('details') ?? null)
    folds.push(at)
  for (const fold of folds) fold.open = true
}
