// Tables as files: comma separated, decimal point, as programs read them.

type Cell = string | number | null | undefined

/** A name that a spreadsheet would take for a formula is text; a number keeps its sign. */
const plain = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)

function quoted(cell: Cell): string {
  const text = cell == null ? '' : typeof cell === 'number' ? String(cell) : plain(cell)
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** A table as text. */
export const csvText = (head: string[], rows: Cell[][]): string =>
  [head, ...rows].map((row) => `${row.map(quoted).join(',')}\r\n`).join('')

/** Offers a table as a CSV file. */
export function saveCsv(name: string, head: string[], rows: Cell[][]): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([csvText(head, rows)], { type: 'text/csv' }))
  link.download = `${name}.csv`
  link.click()
  URL.revokeObjectURL(link.href)
}
