// The simulated run of the open plan: what is turned, which variants are kept beside, and the latest answer.
import { computed, ref, shallowRef, watch } from 'vue'
import { api } from '../../api/client'
import type { Plan, RunReport, Slider, StartsAt, Turned, WhatIf } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'

/** The field of a variant that holds what is turned. */
const fields: Record<Turned, keyof WhatIf> = {
  parallel: 'parallel',
  cutoff: 'cutoff_v',
  charge: 'charge_v',
  ambient: 'ambient_c',
  load: 'load_factor',
}

/** What is turned, in words. */
export const turnedNames: Record<Turned, string> = {
  parallel: 'Cells in parallel',
  cutoff: 'Cut-off of the pack',
  charge: 'Charged to, per cell',
  ambient: 'Surroundings',
  load: 'Load against the survey',
}

/** Most variants that core runs side by side. */
const MOST = 4

/** Nothing is different. */
const planned: WhatIf = { parallel: null, cutoff_v: null, charge_v: null, ambient_c: null, load_factor: null }

/** A value that is turned, in words. */
export function turnedTo(turned: Turned, value: number): string {
  switch (turned) {
    case 'parallel':
      return `${value} parallel`
    case 'load':
      return `load × ${show(value, 'ratio')}`
    case 'cutoff':
      return `cut-off ${show(value, 'v')}`
    case 'charge':
      return `charged to ${show(value, 'v')}`
    case 'ambient':
      return show(value, 'c')
  }
}

/** A variant in words. */
export function named(what: WhatIf): string {
  const parts = (Object.keys(fields) as Turned[]).flatMap((turned) => {
    const value = what[fields[turned]]
    return value == null ? [] : [turnedTo(turned, value)]
  })
  return parts.length ? parts.join(', ') : 'As planned'
}

export function useRun() {
  const { plan } = usePlan()
  const what = ref<WhatIf>(planned)
  const kept = ref<WhatIf[]>([])
  const starts = ref<StartsAt>('full')
  const recorded = ref<string | null>(null)
  const report = shallowRef<RunReport | null>(null)
  /** Why the last question was refused. */
  const refused = ref('')

  const isTurned = computed(() => named(what.value) !== named(planned))
  const variants = computed<WhatIf[]>(() => [planned, ...kept.value, ...(isTurned.value ? [what.value] : [])])

  // One question at a time: a slider asks far faster than a long run is answered, and only the last one counts.
  let asking = false
  let again = false
  async function ask(now: Plan | null): Promise<void> {
    if (!now) return
    if (asking) {
      again = true
      return
    }
    asking = true
    const answer = await api.run(now, variants.value, starts.value, recorded.value)
    if (answer.ok) {
      report.value = answer.value
      refused.value = ''
    } else {
      refused.value = answer.problem.errors.map((e) => e.message).join('; ') || answer.problem.detail
    }
    asking = false
    if (again) {
      again = false
      await ask(plan.value)
    }
  }
  watch([plan, variants, starts, recorded], () => ask(plan.value), { immediate: true })

  function turn(slider: Slider, value: number): void {
    const same = Math.abs(value - slider.now) < slider.step / 2
    what.value = { ...what.value, [fields[slider.turned]]: same ? null : value }
  }
  const valueOf = (slider: Slider): number => what.value[fields[slider.turned]] ?? slider.now
  const reset = (): void => void (what.value = planned)
  function keep(): void {
    kept.value = [...kept.value, what.value]
    reset()
  }
  const drop = (index: number): void => void kept.value.splice(index, 1)
  const mayKeep = computed(() => isTurned.value && kept.value.length < MOST - 2)

  return {
    report,
    refused,
    what,
    kept,
    starts,
    recorded,
    isTurned,
    variants,
    turn,
    valueOf,
    reset,
    keep,
    drop,
    mayKeep,
  }
}
