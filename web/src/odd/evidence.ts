// What is known of something odd in a plan: seen, read, answered. It stays with the browser's tab until it is cleared.
import { ref, watch, type Ref } from 'vue'
import type {
  BuildStep,
  Diagram,
  Evidence,
  OddReading,
  Probe,
  ReadAt,
  StepState,
  Symptom,
} from '../api/types'

/** What was seen, read and answered, and the step of a build that it began in. */
export interface Known extends Required<Evidence> {
  step: string | null
}

const nothing = (): Known => ({ readings: [], seen: [], answers: [], step: null })
const key = (plan: string): string => `dense-brick.odd.${plan}`

function stored(plan: string): Known {
  try {
    return { ...nothing(), ...(JSON.parse(sessionStorage.getItem(key(plan)) ?? '{}') as Partial<Known>) }
  } catch {
    return nothing()
  }
}

function store(plan: string, known: Known): void {
  try {
    sessionStorage.setItem(key(plan), JSON.stringify(known))
  } catch {
    // The page itself still holds it.
  }
}

const samePlace = (a: OddReading, b: OddReading) =>
  a.red === b.red && a.black === b.black && a.condition === b.condition

/** The readings with another: the latest of a place counts. */
export const withReading = (readings: OddReading[], another: OddReading): OddReading[] => [
  ...readings.filter((r) => !samePlace(r, another)),
  another,
]

/** Begins anew with readings that were taken elsewhere. */
export function beginWith(plan: string, readings: OddReading[], step: string | null = null): void {
  store(plan, { ...nothing(), readings, step })
}

/** The readings of a step of a build that lie between points of the circuit, also those that the server does not have yet. */
export const readingsOf = (step: BuildStep, state: StepState, waiting: Map<string, number>): OddReading[] =>
  step.asks.flatMap((ask, i) => {
    const volts = waiting.get(`${step.key} ${ask.key}`) ?? state.asks[i]?.value
    return ask.between && volts != null ? [{ ...ask.between, volts }] : []
  })

/** What the device does in a condition of the diagram. */
const readAt: Record<string, ReadAt> = {
  rest: 'rest',
  off: 'rest',
  tripped: 'rest',
  running: 'on',
  hardest: 'on',
  charging: 'charging',
}

/** A reading of the diagram with what the meter shows there; null where its points have no names. */
export function readingAt(
  diagram: Diagram,
  probe: Probe,
  condition: string,
  volts: number,
): OddReading | null {
  const name = (node: number) => diagram.points.find((p) => p.node === node)?.name
  const [red, black] = [name(probe.red), name(probe.black)]
  return red && black && red !== black ? { red, black, condition: readAt[condition]!, volts } : null
}

export function useEvidence(plan: Ref<string>) {
  const known = ref<Known>(nothing())
  watch(plan, (id) => (known.value = stored(id)), { immediate: true })
  watch(known, (now) => store(plan.value, now), { deep: true })

  function see(symptom: Symptom): void {
    const { seen } = known.value
    known.value.seen = seen.includes(symptom) ? seen.filter((s) => s !== symptom) : [...seen, symptom]
  }

  function read(reading: OddReading): void {
    known.value.readings = withReading(known.value.readings, reading)
  }

  function answer(question: string, answer: string): void {
    const others = known.value.answers.filter((a) => a.question !== question)
    known.value.answers = [...others, { question, answer }]
  }

  function clear(): void {
    known.value = nothing()
  }

  return { known, see, read, answer, clear }
}
