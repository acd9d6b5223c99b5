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

/** Fixes of a finding, null until they are found; those of the plan before its last change stand until then, and are not current. */
export function useFixes(finding: () => string) {
  const found = all()
  const fixes = computed(() => found?.answer.value?.find((one) => one.finding === finding())?.fixes ?? null)
  return {
    fixes,
    current: computed(() => !!found && !found.stale.value),
    problem: computed(() => found?.problem.value ?? null),
  }
}
