// What flows in the strips and cells of the brick. Until a new answer has come, what is shown is of the plan before, and says so.
import { computed, ref } from 'vue'
import { useAnswer } from '../../state/answer'

export function useNetwork() {
  /** After which time a level without end is looked at; null is the run time. */
  const afterS = ref<number | null>(null)
  const { answer: sheet, stale, problem } = useAnswer(() => ({ about: 'network', after_s: afterS.value }))

  const network = computed(() => sheet.value?.network ?? null)
  const strips = computed(() => sheet.value?.strips ?? [])
  return { network, strips, stale, problem, afterS }
}
