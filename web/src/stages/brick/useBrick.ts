// What core says of the brick: its arrangements, its drawing, and every edit by hand. Asked anew when the plan changes.
import { ref, shallowRef, watch } from 'vue'
import { api } from '../../api/client'
import type { BrickEdit, LayoutOffers, Problem } from '../../api/types'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import { ask } from '../../state/questions'
import { turns } from '../../state/turns'

const LAYOUT = '/packs/0/brick/layout'

export function useBrick() {
  const { plan, edit } = usePlan()
  const drawn = useAnswer(() => ({ about: 'brick' }))
  /** Why the last edit by hand was not made. */
  const refused = shallowRef<Problem | null>(null)
  /** The cell that the hand has taken up. */
  const selected = ref<number | null>(null)

  /** What the arrangements depend on: an edit of seats only moves cells. */
  const room = () => {
    const pack = plan.value?.packs[0]
    const layout = pack?.brick?.layout
    return JSON.stringify([
      pack?.series,
      pack?.parallel,
      pack?.cell,
      { ...pack?.brick, layout: layout ? { ...layout, cells: null } : null },
      plan.value?.device.compartments,
    ])
  }

  const offers = shallowRef<LayoutOffers | null>(null)
  const { take } = turns()
  async function arrange(): Promise<void> {
    if (!plan.value) return
    const isLast = take()
    const answer = await ask<'arrangements'>(plan.value, { about: 'arrangements' })
    if (isLast() && answer.ok) offers.value = answer.value
  }
  watch(room, arrange, { immediate: true })
  watch(plan, () => (refused.value = null))

  /** Makes an edit by hand, or says why not. */
  async function byHand(change: BrickEdit): Promise<void> {
    if (!plan.value) return
    const from = plan.value
    const answer = await api.editBrick(from, change)
    if (plan.value !== from) return
    if (answer.ok) {
      edit([{ at: LAYOUT, value: answer.value }])
      selected.value = null
    } else {
      refused.value = answer.problem
    }
  }

  return {
    sheet: drawn.answer,
    stale: drawn.stale,
    problem: drawn.problem,
    offers,
    refused,
    selected,
    byHand,
  }
}
