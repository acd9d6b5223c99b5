// A row that is measured figure by figure: kept once it is left, not in the middle of a figure. What core has read after the
// row was left keeps it then.
import { nextTick, useTemplateRef } from 'vue'

/** `keep` keeps the draft if it is whole; `ref` is the name of the row's element. */
export function useDraftRow(ref: string, keep: () => void) {
  const row = useTemplateRef<HTMLElement | HTMLElement[]>(ref)
  const isLeft = () => {
    const element = Array.isArray(row.value) ? row.value[0] : row.value
    return !element?.contains(document.activeElement)
  }
  /** To be called when a figure has come. */
  async function came(): Promise<void> {
    await nextTick()
    if (isLeft()) keep()
  }
  return { came }
}
