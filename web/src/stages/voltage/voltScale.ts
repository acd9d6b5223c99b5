// One scale of volts for all bars of a list: from a little under the lowest to a little over the highest.

export interface VoltScale {
  ticks: number[]
  /** Where volts stand, as CSS. */
  x: (volts: number) => string
  /** How wide a stretch of volts is, as CSS. */
  width: (from: number, to: number) => string
}

export function voltScale(volts: number[]): VoltScale | null {
  if (!volts.length) return null
  const raw = Math.max(Math.max(...volts) - Math.min(...volts), 1)
  const step = [0.5, 1, 2, 5, 10, 20].find((s) => raw / s <= 8) ?? 50
  const low = Math.max(0, Math.floor((Math.min(...volts) - raw * 0.04) / step) * step)
  const high = Math.ceil((Math.max(...volts) + raw * 0.04) / step) * step
  const ticks = Array.from({ length: Math.round((high - low) / step) + 1 }, (_, i) => low + i * step)
  const share = (v: number) => (Math.max(v, 0) / (high - low)) * 100
  return { ticks, x: (v) => `${share(Math.max(v, low) - low)}%`, width: (from, to) => `${share(to - from)}%` }
}
