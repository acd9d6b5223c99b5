// Which figure's working is open. One drawer for the whole program.
import { ref } from 'vue'

/** Id of the figure whose working is shown; empty is none. */
export const workingOf = ref('')

/** Opens the working of a figure. */
export function openWorking(id: string): void {
  workingOf.value = id
}
