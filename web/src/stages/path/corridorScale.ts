// Where amperes stand in the drawing of the power path, and how words fit beneath its columns.
import type { Link, Path } from '../../api/types'

export const LEFT = 44
export const RIGHT = 116
export const TOP = 18
export const WIDTH = 740
export const HEIGHT = 268

const MARKS = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000]
/** Labels of demands stand no closer than this. */
const LABEL_PX = 31
/** Width of a letter, on average. */
const LETTER_PX = 6

export interface AmpScale {
  y: (amps: number) => number
  ticks: number[]
}

/** Amperes on a logarithmic scale, from under the lowest to over the highest drawn; nothing where none is known. */
export function ampScale(path: Path): AmpScale | null {
  const amps = [
    ...path.demands.map((d) => d.current_a),
    ...path.links.flatMap((l) => [l.continuous_a, ...l.peaks.map((k) => k.limit_a)]),
  ].filter((a): a is number => a != null && a > 0)
  if (!amps.length) return null
  const low = Math.min(...amps) / 1.7
  // A limit far beyond every demand would flatten the rest: it runs off the top.
  const most = Math.max(
    ...path.demands.map((d) => d.current_a),
    ...path.links.map((l) => l.continuous_a ?? 0),
  )
  const high = Math.min(Math.max(...amps), most * 4) * 1.35
  const decades = Math.log(high / low)
  const y = (a: number) =>
    TOP + (Math.log(high / Math.min(Math.max(a, low), high)) / decades) * (HEIGHT - TOP)
  return { y, ticks: MARKS.filter((t) => t > low && t < high) }
}

/** What the link bears for the peaks: the lowest of its peak limits, or its continuous limit. */
export function bornePeak(link: Link): number | null {
  const limits = link.peaks.map((p) => p.limit_a).filter((a): a is number => a != null)
  return limits.length ? Math.max(Math.min(...limits), link.continuous_a ?? 0) : (link.continuous_a ?? null)
}

/** The demands from the top, their labels pushed apart so that none covers another. */
export function demandLines(path: Path, scale: AmpScale) {
  const sorted = path.demands
    .map((d) => ({ d, y: scale.y(d.current_a), label: scale.y(d.current_a) }))
    .sort((a, b) => a.y - b.y)
  sorted.forEach((line, i) => {
    const above = sorted[i - 1]
    if (above) line.label = Math.max(line.label, above.label + LABEL_PX)
  })
  return sorted
}

/** Words in lines of a width, at most two; the rest is left to the title. */
export function wrapped(text: string, width: number): string[] {
  const most = Math.floor(width / LETTER_PX)
  const lines = ['']
  for (const word of text.split(' ')) {
    const last = lines.at(-1) ?? ''
    if (!last) lines[lines.length - 1] = word
    else if (last.length + word.length < most) lines[lines.length - 1] = `${last} ${word}`
    else lines.push(word)
  }
  return lines.length > 2 ? [lines[0]!, `${lines[1]}…`] : lines
}
