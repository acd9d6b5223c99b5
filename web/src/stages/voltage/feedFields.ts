// What can hang on the line, as data: one generic panel draws each.
import type { Feed } from '../../api/types'
import type { Field } from '../../ui/partFields'

export interface FeedSheet {
  place: keyof Pick<Feed, 'gauge' | 'change_over' | 'second'>
  title: string
  lead: string
  add: string
  remove: string
  fresh: unknown
  fields: Field[]
  figures: { id: string; label?: string }[]
}

const volts = (at: string, label: string): Field => ({ at, label, kind: 'known', range: 'device_volts' })
const yesno = (at: string, label: string): Field => ({ at, label, kind: 'yesno' })

export const feedSheets: FeedSheet[] = [
  {
    place: 'gauge',
    title: 'The gauge and its alarms',
    lead: 'A gauge made for other volts tells the truth again when one resistor of its divider is changed. Its levels stand under Device.',
    add: 'Change its divider…',
    remove: 'Leave the divider as it is',
    fresh: { top_ohm: 100000, bottom_ohm: 33000, changes: 'top', series: 'e24' },
    fields: [
      {
        at: '/top_ohm',
        label: 'Resistor at the top',
        kind: 'quantity',
        range: 'divider_ohm',
        required: true,
      },
      {
        at: '/bottom_ohm',
        label: 'Resistor at the bottom',
        kind: 'quantity',
        range: 'divider_ohm',
        required: true,
      },
      { at: '/input_ohm', label: 'Sense input, if it loads', kind: 'quantity', range: 'divider_ohm' },
      {
        at: '/changes',
        label: 'Change the one',
        kind: 'choice',
        items: [
          { value: 'top', title: 'at the top' },
          { value: 'bottom', title: 'at the bottom' },
        ],
      },
      {
        at: '/series',
        label: 'Resistors at hand',
        kind: 'choice',
        items: [
          { value: 'e24', title: 'E24, 5 %' },
          { value: 'e96', title: 'E96, 1 %' },
        ],
      },
      yesno('/always_on', 'Fed while the device is off'),
      volts('/shown_v', 'It shows now'),
      volts('/true_v', 'A meter reads then'),
    ],
    figures: [
      { id: 'gauge.k' },
      { id: 'gauge.wanted_k' },
      { id: 'gauge.exact_ohm' },
      { id: 'gauge.ohm' },
      { id: 'gauge.new_k' },
      { id: 'gauge.error_share' },
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
    fresh: { by: 'relay' },
    fields: [
      {
        at: '/by',
        label: 'Changes over by',
        kind: 'choice',
        items: [
          { value: 'diode', title: 'a diode' },
          { value: 'ideal_diode', title: 'a transistor driven as a diode' },
          { value: 'relay', title: 'a relay' },
        ],
      },
      { at: '/gap_s', label: 'Gap, if known', kind: 'quantity', range: 'duration' },
      { at: '/hold_up_f', label: 'Capacitor at the device', kind: 'quantity', range: 'capacitance' },
      volts('/host_charging_v', 'Seen while it charges'),
      volts('/host_on_battery_v', 'Seen on the pack'),
      { at: '/threshold_v', label: 'Comparator set to', kind: 'quantity', range: 'device_volts' },
      { at: '/hysteresis_v', label: 'Distance of its thresholds', kind: 'quantity', range: 'small_volts' },
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
    title: 'A second pack, switched',
    lead: 'In series the volts add and the smaller pack ends the run; in parallel unequal packs drive current into each other.',
    add: 'Switch a second pack…',
    remove: 'One pack only',
    fresh: { used_in_series: true, used_in_parallel: true },
    fields: [
      { at: '/series', label: 'Its cells in series, if other', kind: 'quantity', range: 'series' },
      { at: '/capacity_ah', label: 'Its capacity, if other', kind: 'quantity', range: 'battery_ah' },
      { at: '/pack_ohm', label: 'Its resistance, if other', kind: 'quantity', range: 'dcir' },
      yesno('/used_in_series', 'Used in series'),
      yesno('/used_in_parallel', 'Used in parallel'),
      yesno('/break_before_make', 'Switch breaks before it makes'),
      yesno('/each_guarded', 'A guard in each pack'),
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
