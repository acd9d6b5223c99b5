// Which figures of a part can be typed by hand, as data: one generic form draws them all.
import type { NodeKindName } from './places'

export type Field =
  | { at: string; label: string; kind: 'quantity'; range: string; required?: boolean }
  | { at: string; label: string; kind: 'known'; range: string; required?: boolean }
  | { at: string; label: string; kind: 'text' }
  | { at: string; label: string; kind: 'yesno' }
  | { at: string; label: string; kind: 'flag' }
  | { at: string; label: string; kind: 'choice'; items: { value: string | null; title: string }[] }
  | { at: string; label: string; kind: 'wire-size' }
  | { at: string; label: string; kind: 'cell-size' }

const quantity = (at: string, label: string, range: string, required = false): Field => ({
  at,
  label,
  kind: 'quantity',
  range,
  required,
})
const yesno = (at: string, label: string): Field => ({ at, label, kind: 'yesno' })

const name: Field = { at: '/offer/name', label: 'Name', kind: 'text' }
const offer: Field[] = [
  quantity('/offer/price', 'Price', 'price'),
  quantity('/offer/arrives_days', 'Arrives in', 'arrival'),
]

export const chemistryItems = [
  { value: 'li_ion', title: 'Li-ion, cylindrical' },
  { value: 'li_po', title: 'LiPo pouch, hobby' },
  { value: 'li_hv', title: 'High-voltage LiPo' },
  { value: 'li_fe_po4', title: 'LiFePO4' },
  { value: 'li_titanate', title: 'Li-titanate' },
  { value: 'na_ion', title: 'Na-ion' },
]

export const cellFields: Field[] = [
  name,
  { at: '/chemistry', label: 'Chemistry', kind: 'choice', items: chemistryItems },
  {
    at: '/origin',
    label: 'Origin',
    kind: 'choice',
    items: [
      { value: 'new', title: 'new, data sheet' },
      { value: 'salvaged', title: 'salvaged' },
      { value: 'hobby', title: 'hobby pack' },
    ],
  },
  { at: '/tested', label: 'I tested this lot', kind: 'flag' },
  { at: '/size', label: 'Size', kind: 'cell-size' },
  quantity('/rated_ah', 'Capacity', 'cell_ah', true),
  { at: '/dcir_ohm', label: 'DCIR', kind: 'known', range: 'dcir' },
  quantity('/discharge_a', 'Continuous rating', 'current'),
  quantity('/pulse_a', 'Pulse rating', 'current'),
  quantity('/pulse_s', 'for', 'duration'),
  quantity('/charge_a', 'Highest charge current', 'current'),
  quantity('/full_v', 'Full volts, if stated', 'cell_volts'),
  quantity('/end_v', 'End volts, if stated', 'cell_volts'),
  quantity('/offer/mass_g', 'Mass of one', 'mass'),
  ...offer,
]

export const stripFields: Field[] = [
  name,
  {
    at: '/metal',
    label: 'Metal',
    kind: 'choice',
    items: [
      { value: 'nickel', title: 'pure nickel' },
      { value: 'nickel_plated_steel', title: 'nickel-plated steel' },
      { value: 'copper', title: 'copper' },
      { value: 'aluminium', title: 'aluminium' },
    ],
  },
  quantity('/width_mm', 'Width', 'size', true),
  quantity('/thickness_mm', 'Thickness', 'size', true),
  quantity('/layers', 'Layers', 'strip_count', true),
  quantity('/side_by_side', 'Side by side, until laid out', 'strip_count', true),
  quantity('/length_mm', 'Weld to weld, until laid out', 'size', true),
]

export const wireFields: Field[] = [
  name,
  { at: '/size', label: 'Thickness', kind: 'wire-size' },
  {
    at: '/insulation',
    label: 'Insulation',
    kind: 'choice',
    items: [
      { value: 'silicone', title: 'silicone' },
      { value: 'pvc', title: 'PVC' },
    ],
  },
  { at: '/bundled', label: 'In a bundle or closed case', kind: 'flag' },
  quantity('/offer/price', 'Price of a metre', 'price'),
]

// 0 says that there is none; empty that nobody knows.
const standby = quantity('/standby_a', 'Drain at rest', 'bench_current')

export const nodeFields: Record<NodeKindName, Field[]> = {
  board: [
    name,
    quantity('/protects/series', 'Cells in series', 'series'),
    {
      at: '/protects/chemistry',
      label: 'Sold for',
      kind: 'choice',
      items: [...chemistryItems, { value: null, title: 'not stated' }],
    },
    quantity('/protects/continuous_a', 'Continuous current', 'current'),
    { at: '/protects/trip_a', label: 'Trip current', kind: 'known', range: 'current' },
    quantity('/protects/trip_delay_s', 'Trip delay', 'duration'),
    quantity('/protects/short_a', 'Short-circuit trip', 'current'),
    quantity('/protects/over_charge_v', 'Ends the charge at, a cell', 'cell_volts'),
    quantity('/protects/over_discharge_v', 'Ends the discharge at, a cell', 'cell_volts'),
    quantity('/protects/charge_a', 'Charge current', 'current'),
    quantity('/protects/bleed_a', 'Bleed current', 'bench_current'),
    yesno('/protects/senses_temperature', 'Senses temperature'),
    yesno('/protects/wants_waking', 'Wants waking'),
    quantity('/protects/path_ohm', 'Resistance', 'dcir'),
    {
      at: '/protects/port',
      label: 'Ports',
      kind: 'choice',
      items: [
        { value: 'common', title: 'load and charger on P−' },
        { value: 'separate', title: 'charger on C−' },
        { value: null, title: 'not stated' },
      ],
    },
    {
      at: '/protects/resets',
      label: 'Closes again after a trip',
      kind: 'choice',
      items: [
        { value: 'load_off', title: 'when the load is off' },
        { value: 'charger', title: 'when a charger is on' },
        { value: 'by_itself', title: 'by itself' },
        { value: null, title: 'not stated' },
      ],
    },
    quantity('/protects/detect_v', 'Detector volts', 'detector'),
    quantity('/protects/detect_tolerance', 'Their tolerance', 'tolerance'),
    quantity('/protects/transistor_ohm', 'On-resistance of one', 'dcir'),
    quantity('/protects/pairs', 'Pairs of transistors', 'pairs'),
    quantity('/protects/trickle_a', 'Current of a way round it', 'bench_current'),
    standby,
    ...offer,
  ],
  fuse: [
    name,
    {
      at: '/style',
      label: 'Style',
      kind: 'choice',
      items: [
        { value: 'blade', title: 'blade' },
        { value: 'glass_fast', title: 'glass, fast' },
        { value: 'glass_time_lag', title: 'glass, time-lag' },
        { value: 'other', title: 'another, curve unknown' },
      ],
    },
    quantity('/rating_a', 'Rating', 'current', true),
    quantity('/dc_v', 'DC volts', 'device_volts'),
    quantity('/breaking_a', 'Breaking capacity', 'breaking'),
    ...offer,
  ],
  switch: [
    name,
    quantity('/continuous_a', 'Continuous current', 'current'),
    quantity('/dc_v', 'DC volts', 'device_volts'),
    quantity('/contact_ohm', 'Resistance', 'dcir'),
    ...offer,
  ],
  connector: connectorFields(),
  jack: connectorFields(),
  converter: [
    name,
    {
      at: '/converts/topology',
      label: 'Kind',
      kind: 'choice',
      items: [
        { value: 'buck', title: 'step-down' },
        { value: 'boost', title: 'step-up' },
        { value: 'buck_boost', title: 'step-up-down' },
      ],
    },
    quantity('/converts/output_v', 'Set to', 'device_volts', true),
    { at: '/converts/set_point_v', label: 'Set point as read', kind: 'known', range: 'device_volts' },
    { at: '/converts/wired_in', label: 'Wired in already', kind: 'flag' },
    quantity('/converts/input_min_v', 'Lowest input', 'device_volts'),
    quantity('/converts/input_max_v', 'Highest input', 'device_volts'),
    quantity('/converts/input_a', 'Input current', 'current'),
    quantity('/converts/output_a', 'Output current', 'current'),
    quantity('/converts/efficiency', 'Efficiency', 'efficiency'),
    quantity('/converts/dropout_v', 'Head room', 'device_volts'),
    quantity('/converts/sheds_w', 'Heat it can shed', 'power'),
    quantity('/converts/own_w', 'Takes for itself', 'own_power'),
    quantity('/converts/path_ohm', 'Resistance in its way', 'dcir'),
    quantity('/converts/diode_v', 'Its diode', 'small_volts'),
    quantity('/converts/k_per_w', 'Kelvin a watt', 'k_per_w'),
    yesno('/converts/adjustable', 'Turned while in use'),
    quantity('/converts/output_max_v', 'Can be turned up to', 'device_volts'),
    yesno('/converts/fixed_socket', 'Socket for fixed volts on it'),
    yesno('/converts/adjuster_on_leads', 'Adjuster on leads'),
    yesno('/converts/adjuster_clamped', 'Output clamped if one opens'),
    standby,
    ...offer,
  ],
  cut_off: [
    name,
    quantity('/cuts_off/at_v', 'Opens at', 'device_volts', true),
    quantity('/cuts_off/rearm_v', 'Closes again at', 'device_volts'),
    standby,
    ...offer,
  ],
  alarm: [name, quantity('/alarms/at_cell_v', 'Sounds at, a cell', 'cell_volts', true), standby, ...offer],
  charger: [
    name,
    {
      at: '/charges/kind',
      label: 'Kind',
      kind: 'choice',
      items: [
        { value: 'cc_cv', title: 'lithium: CC/CV' },
        { value: 'fixed_volts', title: 'fixed volts, no current limit' },
        { value: 'nickel', title: 'for nickel' },
        { value: 'lead_acid', title: 'for lead-acid' },
      ],
    },
    { at: '/charges/output_v', label: 'End volts', kind: 'known', range: 'device_volts', required: true },
    quantity('/charges/output_a', 'Charge current', 'current'),
    quantity('/charges/tolerance', 'Tolerance', 'tolerance'),
    quantity('/charges/efficiency', 'Efficiency', 'efficiency'),
    { at: '/charges/own_supply', label: 'Plugs into the wall itself', kind: 'flag' },
    quantity('/charges/printed_a', 'Printed current, side unknown', 'current'),
    quantity('/charges/input_min_v', 'Works from', 'device_volts'),
    quantity('/charges/input_max_v', 'Bears at its input', 'device_volts'),
    quantity('/charges/pre_charge_a', 'Current into empty cells', 'current'),
    quantity('/charges/ends_a', 'Ends at', 'current'),
    quantity('/charges/restart_v', 'Begins again at', 'device_volts'),
    quantity('/charges/back_leak_a', 'Leaks back', 'bench_current'),
    quantity('/charges/balance_a', 'Balance current, over the taps', 'current'),
    ...offer,
  ],
  supply: [
    name,
    quantity('/supplies/output_v', 'Output volts', 'device_volts', true),
    quantity('/supplies/output_a', 'Output current', 'current', true),
    ...offer,
  ],
}

function connectorFields(): Field[] {
  return [
    name,
    quantity('/continuous_a', 'Continuous current', 'current'),
    quantity('/dc_v', 'DC volts', 'device_volts'),
    yesno('/keyed', 'Fits one way only'),
    yesno('/live_pins_bare', 'Live half has bare pins'),
    quantity('/contact_ohm', 'Resistance', 'dcir'),
    ...offer,
  ]
}
