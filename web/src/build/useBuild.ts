// The build of the open plan: as it stands on the server, what is on its way there, and whoever else is at it.
import { computed, onBeforeUnmount, ref, shallowRef, watch, type Ref } from 'vue'
import { api, files } from '../api/client'
import { newKey } from '../api/key'
import type { BuildSummary, Happened, OpenBuild, Problem, What } from '../api/types'
import { turns } from '../state/turns'
import { keepUnsent, unsentOf } from './unsent'

/** Pause before what could not be sent is sent again. */
const RETRY_MS = 2000

export function useBuild(plan: Ref<string>) {
  const builds = shallowRef<BuildSummary[] | null>(null)
  const build = shallowRef<OpenBuild | null>(null)
  /** Why something was not kept, or could not be had. */
  const problem = shallowRef<Problem | null>(null)
  /** The step of what was last refused; empty once something was kept. */
  const refused = ref('')
  const away = ref(false)
  const unsent = shallowRef<Happened[]>([])
  const { take, drop } = turns()
  let news: EventSource | null = null
  let timer = 0
  let sending = false

  function show(now: OpenBuild): void {
    build.value = now
    away.value = false
  }

  async function look(id: string): Promise<void> {
    const isLast = take()
    const found = await api.build(id)
    if (!isLast()) return
    if (found.ok) show(found.value)
    else if (found.problem.status === 0 || found.problem.status === 503) away.value = true
    else problem.value = found.problem
  }

  /** The open build once more: the plan may have changed under it. */
  async function again(): Promise<void> {
    if (build.value) await look(build.value.id)
  }

  /** Opens a build: what this browser still holds of it is sent first. */
  async function open(id: string): Promise<void> {
    news?.close()
    unsent.value = unsentOf(id)
    await look(id)
    news = new EventSource(files.buildNews(id))
    // It connects again by itself, and tells at once that there may be something new.
    news.onmessage = () => void look(id)
    void send()
  }

  async function begin(): Promise<void> {
    const begun = await api.beginBuild(plan.value)
    if (!begun.ok) {
      problem.value = begun.problem
      return
    }
    problem.value = null
    await open(begun.value.id)
  }

  /** Sends what happened, in order, each once. What is refused is told and dropped: the sheet has changed under it. */
  async function send(): Promise<void> {
    const id = build.value?.id
    if (sending || !id) return
    sending = true
    while (unsent.value.length) {
      const [first] = unsent.value
      const kept = await api.happened(id, first!)
      if (!kept.ok && (kept.problem.status === 0 || kept.problem.status === 503)) {
        away.value = true
        clearTimeout(timer)
        timer = window.setTimeout(() => void send(), RETRY_MS)
        break
      }
      unsent.value = unsent.value.slice(1)
      keepUnsent(id, unsent.value)
      problem.value = kept.ok ? null : kept.problem
      refused.value = kept.ok ? '' : first!.event.step
      if (kept.ok) {
        // An answer to an older look may still be on its way.
        drop()
        show(kept.value)
      }
    }
    sending = false
  }

  function happen(step: string, happened: What): void {
    const id = build.value?.id
    if (!id) return
    unsent.value = [
      ...unsent.value,
      { key: newKey(), event: { step, at: new Date().toISOString(), happened } },
    ]
    keepUnsent(id, unsent.value)
    void send()
  }

  async function followNewest(): Promise<void> {
    const id = build.value?.id
    if (!id) return
    const followed = await api.followNewest(id)
    if (followed.ok) show(followed.value)
    else problem.value = followed.problem
  }

  watch(
    plan,
    async (id) => {
      drop()
      build.value = null
      builds.value = null
      const found = await api.builds(id)
      if (!found.ok) {
        problem.value = found.problem
        return
      }
      problem.value = null
      builds.value = found.value
      if (found.value[0]) await open(found.value[0].id)
    },
    { immediate: true },
  )
  onBeforeUnmount(() => {
    clearTimeout(timer)
    news?.close()
  })

  /** Readings that this browser typed and the server does not have yet, by step and what is asked. */
  const waiting = computed(() => {
    const found = new Map<string, number>()
    for (const { event } of unsent.value)
      if (event.happened.what === 'read')
        found.set(`${event.step} ${event.happened.ask}`, event.happened.value)
    return found
  })

  return { builds, build, problem, refused, away, unsent, waiting, begin, open, again, happen, followNewest }
}
