// What can be drawn of a run over time.
import type { RunPoint } from '../../api/types'

export type RunView = 'pack' | 'groups' | 'current' | 'power' | 'heat' | 'charge'
interface Line {
  name: string
  pick: (p: RunPoint) => number | null | undefined
  thin?: boolean
}
interface View {
  label: string
  unit: string
  places: number
  lines: Line[]
}
export const runViews: Record<RunView, View> = {
  pack: {
    label: 'Voltage',
    unit: 'V',
    places: 2,
    lines: [
      { name: 'pack', pick: (p) => p.pack_v },
      { name: 'at the device at a peak', pick: (p) => p.peak_v, thin: true },
    ],
  },
  groups: {
    label: 'Groups',
    unit: 'V',
    places: 3,
    lines: [
      { name: 'weakest group', pick: (p) => p.weakest_v },
      { name: 'strongest group', pick: (p) => p.strongest_v, thin: true },
    ],
  },
  current: { label: 'Current', unit: 'A', places: 2, lines: [{ name: 'current', pick: (p) => p.current_a }] },
  power: { label: 'Power', unit: 'W', places: 1, lines: [{ name: 'power', pick: (p) => p.power_w }] },
  heat: {
    label: 'Temperature',
    unit: '°C',
    places: 1,
    lines: [{ name: 'hottest cell', pick: (p) => p.hottest_c }],
  },
  charge: { label: 'Charge', unit: '%', places: 1, lines: [{ name: 'charge', pick: (p) => p.soc * 100 }] },
}
