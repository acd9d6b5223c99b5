import { describe, expect, it } from 'vitest'
import { turns } from './turns'

describe('turns', () => {
  it('lets only the last one through', () => {
    const { take } = turns()
    const first = take()
    expect(first()).toBe(true)
    const second = take()
    expect(first()).toBe(false)
    expect(second()).toBe(true)
  })

  it('drops what is under way without a new one', () => {
    const { take, drop } = turns()
    const only = take()
    drop()
    expect(only()).toBe(false)
    expect(take()()).toBe(true)
  })
})
