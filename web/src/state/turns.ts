// The last question counts: an answer that a later question overtook is dropped.

export interface Turns {
  /** Takes the next turn; what is given says whether it is still the last. */
  take: () => () => boolean
  /** Drops every answer that is still under way. */
  drop: () => void
}

export function turns(): Turns {
  let now = 0
  return {
    take: () => {
      const mine = ++now
      return () => mine === now
    },
    drop: () => {
      now += 1
    },
  }
}
