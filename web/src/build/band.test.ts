import { SPACE } from '../format/show'
import { describe, expect, it } from 'vitest'
import type { BuildAsk } from '../api/types'
import { predictedOf } from './band'

const ask = (expects: BuildAsk['expects']): BuildAsk => ({
  key: 'x',
  what: 'x',
  red: '',
  black: '',
  how: [],
  earlier: {},
  expects,
})

describe('predictedOf', () => {
  it('says both ends, one of them, or that nothing is known', () => {
    const band = { as: 'band', unit: 'v', because: 'x' } as const
    expect(predictedOf(ask({ ...band, low: 8.1, high: 8.3 }))).toBe(`8.1–8.3${SPACE}V`)
    expect(predictedOf(ask({ ...band, low: 8.1, high: null }))).toBe(`8.1${SPACE}V or more`)
    expect(predictedOf(ask({ ...band, low: null, high: 8.3 }))).toBe(`8.3${SPACE}V or less`)
    expect(predictedOf(ask({ as: 'unknown', unit: 'v', usual: '' }))).toBe('not known')
    expect(predictedOf(ask({ as: 'unknown', unit: 'v', usual: 'about 0 V' }))).toBe('about 0 V')
    expect(predictedOf(ask({ as: 'yes' }))).toBe('')
  })
})
