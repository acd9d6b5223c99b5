import { expect, test } from 'vitest'
import type { Phrase } from '../api/types'
import { runs } from './phrase'

const text = (words: string) => ({ is: 'text', text: words }) as Phrase['pieces'][number]
const figure = (value: number) => ({ is: 'quantity', value, unit: 'a' }) as Phrase['pieces'][number]
const read = (pieces: Phrase['pieces']) =>
  runs(pieces).map(({ before, piece, after }) => `${before}${piece.is === 'text' ? piece.text : '#'}${after}`)

test('punctuation stays on the line of the figure that it follows or opens', () => {
  const warning = [
    text('it may give '),
    figure(13.6),
    text('. Take more layers, or '),
    figure(2),
    text('; else stop.'),
  ]
  expect(read(warning)).toEqual(['it may give ', '#.', ' Take more layers, or ', '#;', ' else stop.'])
  expect(read([text('between ('), figure(1), text(') and '), figure(2)])).toEqual([
    'between ',
    '(#)',
    ' and ',
    '#',
  ])
})

test('no sign is lost or doubled', () => {
  const pieces = [figure(1), text('.'), figure(2), text(' a “'), figure(3), text('”…')]
  expect(read(pieces).join('')).toBe('#.# a “#”…')
})
