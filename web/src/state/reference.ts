// What never changes while the program runs: ranges, chemistries, formulas, kinds of part, sources. Read once.
import { shallowRef } from 'vue'
import { api } from '../api/client'
import type { Job, JobSheet, Range, Reference, GlossaryTerm } from '../api/types'

const reference = shallowRef<Reference | null>(null)

/** Reads the reference data unless it is there. */
export async function loadReference(): Promise<void> {
  if (reference.value) return
  const answer = await api.reference()
  if (answer.ok) reference.value = answer.value
}

export function useReference() {
  return {
    reference,
    range: (key: string): Range | undefined => reference.value?.ranges.find((r) => r.key === key),
    jobs: (): JobSheet[] => reference.value?.jobs ?? [],
    job: (job: Job | null | undefined): JobSheet | undefined =>
      reference.value?.jobs.find((sheet) => sheet.job === job),
    formula: (id: string): string => reference.value?.formulas.find((f) => f.id === id)?.formula ?? '',
    /** Name of a figure, known or not; what follows an @ is its subject. */
    label: (id: string): string =>
      reference.value?.formulas.find((f) => f.id === id.split('@')[0])?.label ?? '',
    terms: (): GlossaryTerm[] => reference.value?.glossary ?? [],
    source: (key: string): string => reference.value?.sources.find((s) => s.key === key)?.text ?? key,
  }
}
