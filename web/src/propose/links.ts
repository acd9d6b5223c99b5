// A whole plan link by link, as a maker would name its parts.
import type { Plan } from '../api/types'

export interface PlanLink {
  place: string
  part: string
}

const words: Record<string, string> = {
  board: 'board',
  fuse: 'fuse',
  cut_off: 'cut-off',
  switch: 'switch',
  connector: 'plug',
  converter: 'converter',
  alarm: 'alarm',
  jack: 'jack',
  charger: 'charger',
  supply: 'supply',
}

interface Chosen {
  state: string
  part?: Record<string, unknown>
}

/** Name of what is chosen somewhere, however deep its offer lies. */
function nameOf(choice: unknown): string | null {
  const { state, part } = (choice ?? {}) as Chosen
  if (state !== 'chosen' || !part) return null
  const offer = (held: unknown) => (held as { offer?: { name: string } } | null)?.offer?.name
  return offer(part) ?? Object.values(part).map(offer).find(Boolean) ?? null
}

/** What a plan is made of, in the order of the path; a module in several places once. */
export function linksOf(plan: Plan): PlanLink[] {
  const found: PlanLink[] = []
  const put = (place: string, choice: unknown) => {
    const part = nameOf(choice)
    if (part) found.push({ place, part })
  }
  const pack = plan.packs[0]
  put('cells', pack?.cell)
  put('pack', pack?.ready)
  put('strips', pack?.strip)
  for (const node of plan.nodes) if (!node.with && words[node.kind]) put(words[node.kind]!, node.part)
  for (const run of plan.runs) put('wire', run.wire)
  return found
}
