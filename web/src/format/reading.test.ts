import { describe, expect, it } from 'vitest'
import { readReading } from './reading'

describe('readReading', () => {
  it.each([
    ['4.10', 'v', 4.1],
    ['4,10', 'v', 4.1],
    [' 4100 mV ', 'v', 4.1],
    ['−0.02', 'v', -0.02],
    ['-0.02V', 'v', -0.02],
    ['1.3 A', 'a', 1.3],
    ['47k', 'ohm', 47_000],
    ['1.2 MΩ', 'ohm', 1_200_000],
    ['31 min', 's', 1860],
    ['1.5 h', 's', 5400],
    ['90', 's', 90],
    ['.5', 'a', 0.5],
  ] as const)('reads %s', (text, unit, value) => {
    expect(readReading(text, unit)).toBeCloseTo(value, 9)
  })

  it.each([
    ['', 'v'],
    ['four', 'v'],
    ['4.1.2', 'v'],
    ['4 A', 'v'],
    ['3 V', 'ohm'],
    ['12 V', 's'],
    ['-', 'v'],
  ] as const)('refuses %s', (text, unit) => {
    expect(readReading(text, unit)).toBeNull()
  })
})
