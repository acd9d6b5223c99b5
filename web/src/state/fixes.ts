// The smallest changes that clear each finding of the open plan, looked for once an edit is over.
import { computed, effectScope } from 'vue'
import type { Fix } from '../api/types'
import { useAnswer, type Asked } from './answer'
import { usePlan } from './plan'

/** Not for every keystroke: the buttons may follow the figures a moment later. */
const QUIET_MS = 150

let kept: Asked<{ finding: string; fixes: Fix[] }[]> | null = null

/** One set for all cards, whoever asks first. */
function all() {
  const { assessment } = usePlan()
  const open = () => assessment.value?.findings.some((f) => f.severity !== 'note' && !f.accepted)
  kept ??=
    effectScope(true).run(() => useAnswer(() => (open() ? { about: 'fixes' } : null), QUIET_MS)) ?? null
  return kept
}

/** Fixes of a finding of the plan as it stands; null while they are looked for. */
export function useFixes(finding: () => string) {
  const found = all()
  const fixes = computed(() => {
    if (!found || found.stale.value) return null
    return found.answer.value?.find((one) => one.finding === finding())?.fixes ?? null
  })
  return { fixes, problem: computed(() => found?.problem.value ?? null) }
}
