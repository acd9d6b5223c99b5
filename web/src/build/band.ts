// What is predicted of a reading, in words.
import type { BuildAsk } from '../api/types'
import { show, showRange } from '../format/show'

export function predictedOf({ expects: e }: BuildAsk): string {
  if (e.as === 'yes') return ''
  if (e.as === 'unknown') return e.usual || 'not known'
  if (e.low != null && e.high != null) return showRange(e.low, e.high, e.unit)
  if (e.low != null) return `${show(e.low, e.unit)} or more`
  return e.high != null ? `${show(e.high, e.unit)} or less` : 'not known'
}
