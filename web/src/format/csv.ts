// Tables as files: comma separated, decimal point, as programs read them.

type Cell = string | number | null | undefined

function quoted(cell: Cell): string {
  const text = cell == null ? '' : String(cell)
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** Offers a table as a CSV file. */
export function saveCsv(name: string, head: string[], rows: Cell[][]): void {
  const text = [head, ...rows].map((row) => row.map(quoted).join(',')).join('\r\n')
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([`${text}\r\n`], { type: 'text/csv' }))
  link.download = `${name}.csv`
  link.click()
  URL.revokeObjectURL(link.href)
}
