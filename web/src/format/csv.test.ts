import { expect, test } from 'vitest'
import { csvText } from './csv'

test('cells are quoted where they must be, and none is a formula', () => {
  const text = csvText(
    ['what', 'a'],
    [
      ['a "15 A" fuse, blade', -1.5],
      ['=1+1', null],
      ['@name', undefined],
    ],
  )
  expect(text).toBe('what,a\r\n"a ""15 A"" fuse, blade",-1.5\r\n\'=1+1,\r\n\'@name,\r\n')
})
