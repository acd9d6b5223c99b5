// Words for the device's fields.
export const deviceKinds = [
  { value: 'motor', title: 'brushed motor: tool, toy' },
  { value: 'fan_or_pump', title: 'fan, pump, propeller' },
  { value: 'electronics', title: 'electronics' },
  { value: 'resistive', title: 'lamp or heater' },
  { value: 'unsaid', title: 'not said yet' },
]

export const originalChemistries = [
  { value: 'nickel', title: 'NiMH or NiCd' },
  { value: 'lead_acid', title: 'lead-acid (2 V cells)' },
  { value: 'alkaline', title: 'alkaline primary' },
  { value: 'li_ion', title: 'Li-ion' },
  { value: 'li_po', title: 'LiPo' },
  { value: 'li_fe_po4', title: 'LiFePO4' },
]

export const yesno = [
  { value: true, title: 'yes' },
  { value: false, title: 'no' },
  { value: null, title: 'not known' },
]

/** Fields of the device, as pointers below it. */
export type DeviceFields =
  | 'kind'
  | 'wanted_run_s'
  | 'lowest_v'
  | 'highest_v'
  | 'job'
  | 'label'
  | 'connector'
  | `original/${'chemistry' | 'series' | 'label_v' | 'words' | 'age_days' | 'gave_ah' | 'capacity_ah' | 'charger_v' | 'charger_label_v' | 'charger_label_a' | 'run_s' | 'mass_g' | 'wire' | 'charger_fits' | 'cells_fit'}`
