// The smallest changes that clear each finding of the open plan, looked for once its figures are there.
import { computed, effectScope } from 'vue'
import type { Fix } from '../api/types'
import { useAnswer, type Asked } from './answer'
import { usePlan } from './plan'

let kept: Asked<{ finding: string; fixes: Fix[] }[]> | null = null

/** One set for all cards, whoever asks first. */
function all() {
  const { assessment, stale } = usePlan()
  const open = () => assessment.value?.findings.some((f) => !f.accepted)
  // Directly after the figures of an edit, not beside them: those must not wait.
  const wanted = () => (open() && !stale.value ? ({ about: 'fixes' } as const) : null)
  kept ??= effectScope(true).run(() => useAnswer(wanted)) ?? null
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
