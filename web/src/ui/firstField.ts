// The first field of a form: the cursor is in it as soon as the form is there, and never taken from another one later.
import type { Directive } from 'vue'

export const vFirstField: Directive<HTMLElement> = {
  mounted: (field) => {
    field.querySelector<HTMLElement>('input, textarea')?.focus({ preventScroll: true })
  },
}
