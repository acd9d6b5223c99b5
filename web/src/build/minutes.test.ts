import { expect, it } from 'vitest'
import { minutesNow } from './minutes'

it('counts on from the newest line by the clock', () => {
  const at = '2026-03-02T10:00:00Z'
  expect(minutesNow({ lines: [], written_at: null })).toBe(0)
  const watch = { lines: [{ after_s: 0 }, { after_s: 900 }], written_at: at }
  expect(minutesNow(watch, Date.parse('2026-03-02T10:20:00Z'))).toBe(35)
  expect(minutesNow(watch, Date.parse('2026-03-02T09:00:00Z'))).toBe(15)
})
