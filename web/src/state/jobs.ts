// Long work, watched as it goes on: its whole state comes with every change.
import { onBeforeUnmount, shallowRef } from 'vue'
import { api, files } from '../api/client'
import type { Answer } from '../api/client'
import type { JobState, Problem } from '../api/types'

/** One job at a time, for the view that starts it; ended with the view. */
export function useJob() {
  const job = shallowRef<JobState | null>(null)
  const problem = shallowRef<Problem | null>(null)
  let events: EventSource | null = null

  function close(): void {
    events?.close()
    events = null
  }

  /** Starts a job and watches it; resolves when it has ended. */
  async function start(begin: Promise<Answer<JobState>>): Promise<JobState | null> {
    close()
    problem.value = null
    const begun = await begin
    if (!begun.ok) {
      problem.value = begun.problem
      return null
    }
    job.value = begun.value
    return new Promise((resolve) => {
      const source = new EventSource(files.jobEvents(begun.value.id))
      events = source
      source.onmessage = (event: MessageEvent<string>) => {
        const state = JSON.parse(event.data) as JobState
        job.value = state
        if (state.stage === 'working') return
        close()
        problem.value = state.problem ?? null
        resolve(state)
      }
      source.onerror = () => {
        close()
        problem.value = {
          status: 0,
          title: 'Dense Brick does not answer',
          detail: 'The work may have ended with the program. Start it again.',
          errors: [],
        }
        job.value = null
        resolve(null)
      }
    })
  }

  async function stop(): Promise<void> {
    if (job.value?.stage === 'working') await api.stopJob(job.value.id)
  }

  onBeforeUnmount(() => {
    void stop()
    close()
  })

  return { job, problem, start, stop }
}
