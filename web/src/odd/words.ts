// How the device stands while a reading is taken, and how sure a cause is, in words.
import type { ReadAt } from '../api/types'
import { plain } from '../format/show'

export const conditions: { value: ReadAt; title: string }[] = [
  { value: 'rest', title: 'switched off' },
  { value: 'on', title: 'switched on' },
  { value: 'charging', title: 'charging' },
]

export const conditionWord = (at: ReadAt): string => conditions.find((c) => c.value === at)!.title

/** A probability; nothing is certain. */
export const percent = (p: number): string => (p > 0.99 ? 'over 99 %' : `${plain(p * 100, 0)} %`)
