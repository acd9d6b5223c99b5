// What can hang on the line, as data: one generic panel draws each.
import type { Feed } from '../../api/types'
import type { FieldSheet } from '../../api/types'

export interface FeedSheet {
  place: keyof Pick<Feed, 'gauge' | 'change_over' | 'second' | 'holder'>
  title: string
  lead: string
  add: string
  remove: string
  fresh: unknown
  fields: FieldSheet[]
  figures: { id: string; label?: string }[]
}

const field = (at: string, label: string, typed: FieldSheet['typed'], range?: string): FieldSheet => ({
  at,
  label,
  typed,
  range: range ?? null,
  words: [],
  needed: false,
  from_plan: null,
})
const volts = (at: string, label: string) => field(at, label, 'known', 'device_volts')
const yesno = (at: string, label: string) => field(at, label, 'yes_no')
const quantity = (at: string, label: string, range: string, needed = false) => ({
  ...field(at, label, 'quantity', range),
  needed,
})
const choice = (at: string, label: string, words: FieldSheet['words']) => ({
  ...field(at, label, 'choice'),
  words,
  needed: true,
})

/** Cells that their user puts in; asked where cells are chosen. */
export const holderSheet: FeedSheet = {
  place: 'holder',
  title: 'Cells in holders',
  lead: 'Replaceable cells in parallel. Plan for a reversed cell, an empty one and a missing one.',
  add: 'Add cell holders…',
  remove: 'No cell holders',
  fresh: {},
  fields: [
    quantity('/fewest', 'Minimum number of cells', 'parallel', true),
    {
      ...choice('/each', 'Protection per cell', [
        { value: 'nothing', title: 'nothing' },
        { value: 'fuse', title: 'a fuse' },
        { value: 'ideal_diode', title: 'an ideal diode' },
      ]),
      needed: false,
    },
    quantity('/each_a', 'Its rating', 'current'),
    quantity('/contact_a', 'Holder contact rating', 'current'),
    quantity('/contact_ohm', 'Resistance of both contacts', 'dcir'),
    yesno('/charged_in_place', 'Charged in the holders'),
  ],
  figures: [
    { id: 'holder.each_a' },
    { id: 'holder.each_ohm' },
    { id: 'holder.reversed_a' },
    { id: 'holder.mixed_a' },
  ],
}

export const feedSheets: FeedSheet[] = [
  {
    place: 'gauge',
    title: 'The gauge and its alarms',
    lead: 'A gauge made for another voltage reads right again when one resistor of its divider is changed. Its levels are under Device.',
    add: 'Change its divider…',
    remove: 'Leave the divider as it is',
    fresh: { changes: 'top', series: 'e24' },
    fields: [
      quantity('/top_ohm', 'Resistor at the top', 'divider_ohm', true),
      quantity('/bottom_ohm', 'Resistor at the bottom', 'divider_ohm', true),
      quantity('/input_ohm', 'Sense input, if it loads', 'divider_ohm'),
      choice('/changes', 'Change the resistor', [
        { value: 'top', title: 'at the top' },
        { value: 'bottom', title: 'at the bottom' },
      ]),
      choice('/series', 'Resistors at hand', [
        { value: 'e24', title: 'E24, 5 %' },
        { value: 'e96', title: 'E96, 1 %' },
      ]),
      quantity('/in_hand_ohm', 'Resistor in hand, if any', 'divider_ohm'),
      yesno('/always_on', 'Live while the device is off'),
      volts('/shown_v', 'It shows now'),
      volts('/true_v', 'A meter reads then'),
      volts('/after_shown_v', 'Shows after the change'),
      volts('/after_true_v', 'A meter reads then'),
    ],
    figures: [
      { id: 'gauge.k' },
      { id: 'gauge.wanted_k' },
      { id: 'gauge.exact_ohm' },
      { id: 'gauge.ohm' },
      { id: 'gauge.new_k' },
      { id: 'gauge.error_share' },
      { id: 'gauge.after_k' },
      { id: 'gauge.after_share' },
      { id: 'gauge.loading_share' },
      { id: 'gauge.shown_full_v' },
      { id: 'gauge.shown_empty_v' },
      { id: 'gauge.drain_a' },
      { id: 'gauge.flat_days' },
    ],
  },
  {
    place: 'change_over',
    title: 'Change-over from the mains',
    lead: 'For a standby supply: what bridges the gap, and how a comparator tells charging from running.',
    add: 'There is a change-over…',
    remove: 'There is none',
    fresh: {},
    fields: [
      choice('/by', 'Changes over by', [
        { value: 'diode', title: 'a diode' },
        { value: 'ideal_diode', title: 'an ideal diode' },
        { value: 'relay', title: 'a relay' },
      ]),
      quantity('/gap_s', 'Gap, if known', 'duration'),
      quantity('/coil_a', 'Coil current from the battery', 'bench_current'),
      quantity('/hold_up_f', 'Capacitor at the device', 'capacitance'),
      volts('/host_charging_v', 'Seen while it charges'),
      volts('/host_on_battery_v', 'Seen on the pack'),
      quantity('/threshold_v', 'Comparator set to', 'device_volts'),
      quantity('/hysteresis_v', 'Hysteresis', 'small_volts'),
    ],
    figures: [
      { id: 'change.gap_s' },
      { id: 'change.loss_v' },
      { id: 'change.draws_a' },
      { id: 'change.fall_v' },
      { id: 'change.hold_up_f' },
      { id: 'comparator.threshold_v' },
      { id: 'comparator.hysteresis_v' },
    ],
  },
  {
    place: 'second',
    title: 'A second pack, up to four',
    lead: 'For several, type how many: all alike. In series the voltages add and the smaller pack ends the run; in parallel unequal packs drive current into each other; one at a time each is judged alone.',
    add: 'Add a second pack…',
    remove: 'One pack only',
    fresh: {},
    fields: [
      quantity('/count', 'How many, if more than one', 'further_packs'),
      quantity('/series', 'Cells in series, if different', 'series'),
      quantity('/capacity_ah', 'Capacity, if different', 'battery_ah'),
      quantity('/pack_ohm', 'Resistance, if different', 'dcir'),
      yesno('/used_in_series', 'Used in series'),
      yesno('/used_in_parallel', 'Used in parallel'),
      yesno('/used_alone', 'Used one at a time'),
      yesno('/break_before_make', 'Switch breaks before it makes'),
      yesno('/each_guarded', 'Protection in each pack'),
      volts('/first_rest_v', 'First pack at rest now'),
      volts('/rest_v', 'Second pack at rest now'),
    ],
    figures: [
      { id: 'switched.series_full_v' },
      { id: 'pack.full_v', label: 'Each full, in parallel' },
      { id: 'switched.apart_v' },
      { id: 'switched.equalise_a' },
      { id: 'switched.ends_ah' },
      { id: 'switched.left_ah' },
    ],
  },
]
