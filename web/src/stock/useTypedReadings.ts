// Readings as they are typed or pasted into the table of cells: kept all together or, with the reason, none.
import { ref, type Ref } from 'vue'
import { api } from '../api/client'
import { newKey } from '../api/key'
import type { CellRow, Problem } from '../api/types'
import { useStock } from '../state/stock'
import { reading, typedReadings } from './readingMode'

/** The table that they are typed into. */
interface Table {
  row: (at: number) => CellRow | undefined
  /** So many rows from one on; null when one cannot be had. */
  rows: (first: number, count: number) => Promise<CellRow[] | null>
  total: Ref<number>
  /** Whether one of the conditions they are read under cannot stand. */
  conditionsRefused: Ref<boolean>
  /** Puts the cursor into the field of a row. */
  goTo: (at: number) => Promise<void>
}

export function useTypedReadings({ row, rows, total, conditionsRefused, goTo }: Table) {
  const { changed } = useStock()
  /** Texts by cell until they are kept, and what was kept just now. */
  const typed = ref<Record<string, string>>({})
  const refused = ref<{ id: string; problem: Problem } | null>(null)
  const kept = ref<Record<string, string>>({})

  /** Refuses what was typed or pasted at a row, in the words of core where it has any. */
  function refuse(at: number, title: string, detail: string): void {
    refused.value = { id: row(at)?.id ?? '', problem: { status: 0, title, detail, errors: [] } }
  }

  /** What was sent and not answered: sent once more it keeps its key, so that it is kept once. */
  let unanswered: { what: string; key: string } | null = null
  function keyOf(kind: string, entries: unknown[]): string {
    const what = JSON.stringify([kind, entries])
    if (unanswered?.what !== what) unanswered = { what, key: newKey() }
    return unanswered.key
  }

  /** Keeps readings from a row downwards: all of them or, with the reason, none. */
  async function keep(at: number, texts: string[]): Promise<void> {
    const kind = reading.kind
    if (!kind) return
    if (conditionsRefused.value) {
      refuse(at, 'Not saved', 'One of the conditions above is not valid; correct it first.')
      return
    }
    if (at + texts.length > total.value) {
      refuse(
        at,
        'Not saved',
        `${texts.length} readings, but only ${total.value - at} cells from here downwards.`,
      )
      return
    }
    const cells = await rows(at, texts.length)
    if (!cells) return
    const entries = cells.map((cell, i) => ({ cell: cell.id, text: texts[i]! }))
    const answer = await api.typeReadings({ ...typedReadings(kind, entries), key: keyOf(kind, entries) })
    if (!answer.ok) {
      // Which line of a paste is wrong is said with the label of its cell.
      const errors = answer.problem.errors.map((e) => {
        const line = /^\/entries\/(\d+)\//.exec(e.field)
        const label = line && cells.length > 1 ? `${cells[Number(line[1])]!.label}: ` : ''
        return { ...e, message: label + e.message }
      })
      refused.value = { id: cells[0]!.id, problem: { ...answer.problem, errors } }
      return
    }
    unanswered = null
    refused.value = null
    cells.forEach((cell, i) => {
      kept.value[cell.id] = texts[i]!
      typed.value[cell.id] = ''
    })
    void changed()
    await goTo(at + cells.length)
  }

  /** A pasted column fills the rows from here downwards: all of it or nothing. */
  function pasted(event: ClipboardEvent, i: number): void {
    const text = event.clipboardData?.getData('text') ?? ''
    const lines = text.replace(/\r?\n$/, '').split(/\r?\n/)
    if (lines.length < 2) return
    event.preventDefault()
    void keep(
      i,
      lines.map((l) => l.split('\t')[0]!.trim()),
    )
  }

  return { typed, refused, kept, keep, pasted }
}
