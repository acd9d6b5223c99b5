// Days, loudness and blank entries of packs.
import { describe, expect, it } from 'vitest'
import type { Logged } from '../api/types'
import { blank, dueIn, isDue, kinds, loudness, stateName, states } from './words'

const DAY_S = 86_400
const now_s = 1_800_000_000

describe('what is due', () => {
  it('is told from today, as people say it', () => {
    expect(dueIn(now_s, now_s)).toBe('today')
    expect(dueIn(now_s + DAY_S, now_s)).toBe('tomorrow')
    expect(dueIn(now_s + 12 * DAY_S, now_s)).toBe('in 12 days')
    expect(dueIn(now_s - 9 * DAY_S, now_s)).toBe('9 days late')
    // Farther ahead a day says more than a count of days.
    expect(dueIn(now_s + 200 * DAY_S, now_s)).toMatch(/20\d\d/)
  })

  it('is due from its second on', () => {
    expect(isDue({ on_s: now_s }, now_s)).toBe(true)
    expect(isDue({ on_s: now_s + 1 }, now_s)).toBe(false)
  })

  it('is no louder than a note while it lies ahead, unless it is a stop', () => {
    const ahead_s = Date.now() / 1000 + 5 * DAY_S
    expect(loudness({ on_s: ahead_s, severity: 'caution' })).toBe('note')
    expect(loudness({ on_s: ahead_s, severity: 'stop' })).toBe('stop')
    expect(loudness({ on_s: ahead_s - 10 * DAY_S, severity: 'caution' })).toBe('caution')
  })
})

describe('an entry', () => {
  it('begins blank: no figure is taken for granted', () => {
    for (const { what } of kinds) {
      const entry: Logged = blank(what, 3)
      expect(entry.what).toBe(what)
      const figures = Object.entries(entry).filter(([key]) => /_(ah|s|a|c|ohm|v)$/.test(key))
      for (const [, value] of figures)
        expect([value].flat().every((v) => v === null || Number.isNaN(v))).toBe(true)
    }
  })

  it('of a rest has a field for every group', () => {
    const entry = blank('rest', 7)
    expect(entry.what === 'rest' && entry.groups_v.length).toBe(7)
  })
})

describe('states', () => {
  it('have a name each', () => {
    expect(new Set(states.map((s) => s.title)).size).toBe(states.length)
    expect(stateName('handed_over')).toBe('Handed over')
  })
})
