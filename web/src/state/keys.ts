// Keys for hands that type one figure after another: on to the next field, along a list.

const FIELDS = 'input:not([type=checkbox], [type=radio], [type=file], :disabled), textarea:not(:disabled)'
const STOPS = 'a[href], button:not(:disabled), summary'

const seen = (element: HTMLElement) => element.checkVisibility()

/** Enter in a field goes on to the next one that can be seen; in a list of choices and in a long text it keeps its own meaning. */
export function toNextField(event: KeyboardEvent): void {
  const from = event.target as HTMLElement
  if (event.key !== 'Enter' || event.defaultPrevented || !from.matches('input[type=text], input:not([type])'))
    return
  if (from.closest('.v-select, .v-autocomplete, .v-combobox')) return
  const fields = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>(FIELDS)].filter(seen)
  const to = fields[fields.indexOf(from) + 1]
  if (!to) return
  event.preventDefault()
  to.focus()
  to.scrollIntoView({ block: 'nearest' })
}

/** Up and down go along what can be pressed in a list. */
export function alongList(event: KeyboardEvent): void {
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  const stops = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>(STOPS)].filter(seen)
  const at = stops.indexOf(event.target as HTMLElement)
  const to = stops[at + step]
  if (!step || at < 0 || !to) return
  event.preventDefault()
  to.focus()
}
