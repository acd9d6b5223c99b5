// Where in the program a place of the plan is edited: from a working to its inputs.
import { nextTick } from 'vue'
import type { Router } from 'vue-router'
import type { Plan } from '../api/types'
import { openAround } from './folds'
import { fills } from './inTurn'

const stageOfKind: Record<string, string> = {
  board: 'protection',
  fuse: 'protection',
  cut_off: 'protection',
  alarm: 'protection',
  converter: 'voltage',
  charger: 'charging',
  supply: 'charging',
  jack: 'charging',
}

/** Id of the fuse in the charge lead. */
export const CHARGE_FUSE = 'charge-fuse'

/** The stage whose screen has the field at a pointer. */
export function stageOf(plan: Plan, pointer: string): string {
  const [, head, index, part] = pointer.split('/')
  if (head === 'packs') {
    if (part === 'strip') return 'brick'
    return part === 'chemistry' ? 'voltage' : 'cells'
  }
  if (head === 'nodes') {
    const node = plan.nodes[Number(index)]
    return node?.id === CHARGE_FUSE ? 'charging' : (stageOfKind[node?.kind ?? ''] ?? 'wiring')
  }
  if (head === 'feed') return index === 'holder' ? 'cells' : 'voltage'
  return head === 'runs' ? 'wiring' : 'device'
}

/** Time in which a stage, and the fields of a part, must have appeared. */
const TRIES = 40
const PAUSE_MS = 50

/** Goes to the screen of a place and puts the cursor into its field, as near as there is one. */
export async function goTo(router: Router, plan: Plan, pointer: string): Promise<void> {
  await router.push({ name: stageOf(plan, pointer) })
  for (let i = 0; i < TRIES; i++) {
    await nextTick()
    const field = nearest(pointer)
    // A place that leads to it is as near as there is only once the page is whole.
    if (field && (field.dataset.at === pointer || !fills())) {
      const unfold = field.querySelector<HTMLElement>('[data-unfold][aria-expanded="false"]')
      if (!unfold) return arrive(field)
      unfold.click()
    }
    await new Promise((done) => setTimeout(done, PAUSE_MS))
  }
}

/** The element of the longest pointer that leads to the place. */
function nearest(pointer: string): HTMLElement | undefined {
  const leads = (at: string) => pointer === at || pointer.startsWith(`${at}/`)
  return [...document.querySelectorAll<HTMLElement>('[data-at]')]
    .filter((e) => leads(e.dataset.at ?? ' '))
    .sort((a, b) => (b.dataset.at?.length ?? 0) - (a.dataset.at?.length ?? 0))[0]
}

function arrive(field: HTMLElement): void {
  openAround(field)
  field.scrollIntoView({ block: 'center' })
  const input = field.querySelector<HTMLElement>('input:not([type=hidden]), textarea, button')
  ;(input ?? field).focus()
}
