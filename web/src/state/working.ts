// Which figure's working is open. One drawer for the whole program.
import { computed, ref, shallowRef } from 'vue'
import type { Assessment, Change, Figure } from '../api/types'
import { usePlan } from './plan'
import { withChanges } from './pointer'
import { figuresOf } from './questions'

/** Ids of the figures opened one from another; the last is shown. */
const trail = ref<string[]>([])
/** What core says of the plan with an option that is not chosen, while one of its figures is open. */
const trial = shallowRef<Assessment | null>(null)

const { plan, figure } = usePlan()

/** Opens the working of a figure; with changes, as the figure would be with them made. */
export async function openWorking(id: string, changes: Change[] = []): Promise<void> {
  trial.value = null
  if (changes.length && plan.value) {
    const answer = await figuresOf(withChanges(plan.value, changes))
    if (!answer.ok) return
    trial.value = answer.value
  }
  trail.value = [id]
}

const found = (id: string): Figure | undefined =>
  trial.value ? trial.value.figures.find((f) => f.id === id) : figure(id)

export function useWorking() {
  return {
    /** The figure shown, if any. */
    shown: computed(() => found(trail.value.at(-1) ?? '')),
    isTrial: computed(() => trial.value !== null),
    canGoBack: computed(() => trail.value.length > 1),
    found,
    /** Opens an input of the figure shown. */
    follow: (id: string): void => void (trail.value = [...trail.value, id]),
    back: (): void => void (trail.value = trail.value.slice(0, -1)),
    close: (): void => void (trail.value = []),
  }
}
