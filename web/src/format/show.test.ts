import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'
import type { Unit } from '../api/types'
import { decimalMark } from '../state/preferences'
import { show, showRange, SPACE } from './show'

const table = readFileSync(new URL('../../../core/tests/shown.csv', import.meta.url), 'utf8')
const rows = table
  .split('\n')
  .filter((line) => line && !line.startsWith('#'))
  .slice(1)

test('every value of the table is written as core writes it', () => {
  expect(rows.length).toBeGreaterThan(90)
  for (const row of rows) {
    const [value, unit, text] = row.split(';')
    // On the screen a minus is a minus, not a hyphen.
    const [low, high] = value!.split('..').map(Number)
    const shown = high == null ? show(low!, unit as Unit) : showRange(low!, high, unit as Unit)
    // And a number stays beside its unit.
    expect(shown.replaceAll(SPACE, ' '), row).toBe(text?.replace('-', '−'))
    expect(shown.replace(' – ', '').replace(' to ', ''), row).not.toContain(' ')
  }
})

test('the decimal mark is the person’s', () => {
  decimalMark.value = ','
  expect(show(14.45, 'v')).toBe(`14,45${SPACE}V`)
  decimalMark.value = '.'
})
