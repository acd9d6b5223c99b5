// What a beginner tells apart by looking: old batteries, and how they are connected. Each drawn in a box of 64 by 40.
import type { Chemistry } from '../api/types'

export interface Picture<T extends string> {
  value: T
  title: string
  hint: string
  /** Its lines, as paths. */
  d: string[]
}

/** A chemistry, nothing known, or no battery at all. */
export type OldBattery = Chemistry | 'unknown' | 'none'

export const batteries: readonly Picture<OldBattery>[] = [
  {
    value: 'nickel',
    title: 'NiMH or NiCd',
    hint: 'round cells in a sleeve or a tool pack; 1.2 V each',
    d: [
      'M8 10h12v22H8z',
      'M22 10h12v22H22z',
      'M36 10h12v22H36z',
      'M11 10V7h6v3',
      'M25 10V7h6v3',
      'M39 10V7h6v3',
      'M5 14h46v12H5z',
    ],
  },
  {
    value: 'lead_acid',
    title: 'Lead-acid',
    hint: 'heavy block, 6 or 12 V, two flat tabs on top',
    d: ['M8 12h48v22H8z', 'M14 12V7h6v5', 'M44 12V7h6v5', 'M8 18h48', 'M14 26h6', 'M44 26h6M47 23v6'],
  },
  {
    value: 'alkaline',
    title: 'Alkaline or zinc',
    hint: 'single cells you put in; not charged',
    d: ['M6 8h52v11H6z', 'M58 11h3v5h-3', 'M6 22h52v11H6z', 'M6 25H3v5h3', 'M14 8v11', 'M50 22v11'],
  },
  {
    value: 'li_ion',
    title: 'Li-ion',
    hint: 'round cells or a flat block; 3.6 or 3.7 V each',
    d: ['M14 6h14v28H14z', 'M17 6V3h8v3', 'M34 6h14v28H34z', 'M37 6V3h8v3', 'M14 12h14', 'M34 12h14'],
  },
  {
    value: 'li_po',
    title: 'LiPo pouch',
    hint: 'soft silver or sleeved pouch with two plugs',
    d: ['M6 12h40v20H6z', 'M46 17h7v3h5', 'M46 27h5v3h7', 'M6 16h40', 'M12 22h20'],
  },
  {
    value: 'li_fe_po4',
    title: 'LiFePO4',
    hint: '3.2 V per cell; “LFP” on the label',
    d: ['M10 9h44v25H10z', 'M18 9V5h6v4', 'M40 9V5h6v4', 'M18 22h28', 'M32 15v14'],
  },
  {
    value: 'none',
    title: 'No battery yet',
    hint: 'it is built new',
    d: ['M12 10h40v22H12z', 'M12 10l40 22', 'M52 14h4v14h-4'],
  },
  {
    value: 'unknown',
    title: 'I do not know',
    hint: 'how to find out stands below',
    d: ['M12 10h40v22H12z', 'M52 16h4v10h-4', 'M28 18a4 4 0 1 1 6 3c-2 1-2 2-2 3', 'M32 27v1'],
  },
]

/** How an old battery is connected. */
export type OldPlug =
  'springs' | 'snaps' | 'keyed_plug' | 'bullets' | 'blades' | 'barrel' | 'rails' | 'soldered' | 'unknown'

export const plugs: readonly Picture<OldPlug>[] = [
  {
    value: 'springs',
    title: 'Springs',
    hint: 'in a bay or holder, a flat contact opposite',
    d: ['M4 8v24', 'M4 20h8l4-8 6 16 6-16 6 16 4-8', 'M46 8v24h12V8z'],
  },
  {
    value: 'snaps',
    title: 'Snap contacts',
    hint: 'a stud and a socket side by side',
    d: ['M8 24h48v10H8z', 'M16 24v-8h10v8', 'M38 24v-4l-3-6h16l-3 6v4'],
  },
  {
    value: 'keyed_plug',
    title: 'Small keyed plug',
    hint: 'plastic body with a nose, two or three pins',
    d: [
      'M14 12h24v20H14z',
      'M38 16h6v12h-6',
      'M19 12V8h10v4',
      'M14 18H4',
      'M14 26H4',
      'M44 19h8',
      'M44 25h8',
    ],
  },
  {
    value: 'bullets',
    title: 'Bullet plugs',
    hint: 'round, one on each wire',
    d: [
      'M4 12h14',
      'M18 8h12v8H18z',
      'M30 9h16l4 3-4 3H30',
      'M4 28h14',
      'M18 24h12v8H18z',
      'M30 25h16l4 3-4 3H30',
    ],
  },
  {
    value: 'blades',
    title: 'Flat tabs',
    hint: 'blades that a sleeve slides onto',
    d: ['M8 20h48v14H8z', 'M16 20V8h6v12', 'M42 20V8h6v12', 'M19 12v1', 'M45 12v1'],
  },
  {
    value: 'barrel',
    title: 'Barrel plug',
    hint: 'round, a pin inside a sleeve',
    d: ['M4 20h12', 'M16 10h14v20H16z', 'M30 14h24v12H30z', 'M54 18v4', 'M30 18h20M30 22h20'],
  },
  {
    value: 'rails',
    title: 'Slides onto rails',
    hint: 'a tool pack with flat contacts between rails',
    d: ['M6 18h52v16H6z', 'M12 18v-8h40v8', 'M12 14h-5M52 14h5', 'M22 10v8M28 10v8M36 10v8M42 10v8'],
  },
  {
    value: 'soldered',
    title: 'Soldered wires',
    hint: 'no plug at all',
    d: ['M38 8h18v24H38z', 'M4 14c12-6 18 6 34 0', 'M4 28c12-6 18 6 34 0', 'M36 12h4v4h-4zM36 26h4v4h-4z'],
  },
  {
    value: 'unknown',
    title: 'Something else',
    hint: 'or not seen yet: photograph it when you do',
    d: ['M12 10h40v22H12z', 'M28 18a4 4 0 1 1 6 3c-2 1-2 2-2 3', 'M32 27v1'],
  },
]
