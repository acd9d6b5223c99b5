/** What the meter is held to: a wire by its node, a symbol by its block, or a reading of the table. */
export type Touched =
  { at: 'node'; node: number } | { at: 'block'; id: string } | { at: 'reading'; index: number } | null
