// A pack with its log, and what is written into it.
import { ref, shallowRef, watch, type Ref } from 'vue'
import { api } from '../api/client'
import { newKey } from '../api/key'
import type { OpenPack, PackCard, PackEntry, Problem } from '../api/types'
import { turns } from '../state/turns'

export function usePack(id: Ref<string>) {
  const pack = shallowRef<OpenPack | null>(null)
  const problem = ref<Problem | null>(null)
  const { take, drop } = turns()

  async function load(): Promise<void> {
    const isLast = take()
    const answer = await api.pack(id.value)
    if (!isLast()) return
    if (answer.ok) pack.value = answer.value
    else problem.value = answer.problem
  }

  /** The same entry keeps its key while it is tried again: a lost answer makes no second one. */
  let tried: { entry: string; key: string } | null = null

  async function keep(entry: PackEntry): Promise<Problem | null> {
    const text = JSON.stringify(entry)
    if (tried?.entry !== text) tried = { entry: text, key: newKey() }
    const answer = await api.keepEntry(id.value, tried.key, entry)
    if (!answer.ok) return answer.problem
    tried = null
    drop()
    pack.value = answer.value
    return null
  }

  async function changeCard(card: PackCard): Promise<Problem | null> {
    if (!pack.value) return null
    const answer = await api.changeCard(id.value, pack.value.revision, card)
    if (!answer.ok) return answer.problem
    drop()
    pack.value = answer.value
    return null
  }

  watch(id, load, { immediate: true })
  return { pack, problem, load, keep, changeCard }
}
