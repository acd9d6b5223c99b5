// A sentence in runs that hold together: what is set close to a figure stays on its line.
import type { Phrase } from '../api/types'

type Piece = Phrase['pieces'][number]

export interface Run {
  /** Set close before it: an opening bracket or quote. */
  before: string
  piece: Piece
  /** Set close behind it: a full stop, a comma, a closing bracket. */
  after: string
}

const OPENING = /[([“‘]+$/
const CLOSING = /^[.,;:!?)\]”’…]+/

/** The pieces of a sentence, each figure with the punctuation that clings to it. */
export function runs(pieces: Piece[]): Run[] {
  const isFigure = (piece: Piece | undefined) => !!piece && piece.is !== 'text'
  const textOf = (piece: Piece | undefined) => (piece?.is === 'text' ? piece.text : '')
  return pieces.map((piece, i): Run => {
    const [last, next] = [pieces[i - 1], pieces[i + 1]]
    if (piece.is !== 'text') {
      return {
        before: OPENING.exec(textOf(last))?.[0] ?? '',
        piece,
        after: CLOSING.exec(textOf(next))?.[0] ?? '',
      }
    }
    let text = piece.text
    if (isFigure(last)) text = text.replace(CLOSING, '')
    if (isFigure(next)) text = text.replace(OPENING, '')
    return { before: '', piece: { ...piece, text }, after: '' }
  })
}
