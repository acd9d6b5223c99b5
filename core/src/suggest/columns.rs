//! The columns of a parts sheet: which figure of which kind of part stands in which.

use serde::Serialize;
use utoipa::ToSchema;

use super::ItemKind;

/// How a column is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Form {
    /// A number in the unit that the name ends in; shares as 0 to 1.
    Number,
    /// A whole number.
    Count,
    /// Free words.
    Text,
    /// yes or no.
    YesNo,
    /// One of the words of the plan's format.
    Word,
}

/// One column.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Column {
    /// Its name in the header.
    pub name: &'static str,
    /// Kinds of part that have it.
    #[serde(skip)]
    pub kinds: &'static [ItemKind],
    /// JSON pointer of the figure in the part.
    #[serde(skip)]
    pub at: &'static str,
    /// How it is written.
    pub form: Form,
    /// What stands there when nothing is written but something beside it is.
    #[serde(skip)]
    pub otherwise: Option<&'static str>,
}

use Form::{Count, Number, Text, Word, YesNo};
use ItemKind::{Cell, Connector, Fuse, Module, Strip, Switch, Wire};

const ALL_KINDS: &[ItemKind] = &[Cell, Strip, Module, Fuse, Connector, Switch, Wire];

const fn col(kinds: &'static [ItemKind], name: &'static str, at: &'static str, form: Form) -> Column {
    Column { name, kinds, at, form, otherwise: None }
}

const fn or(column: Column, otherwise: &'static str) -> Column {
    Column { otherwise: Some(otherwise), ..column }
}

/// Every column below the part, in the order in which they are written.
pub fn columns() -> &'static [Column] {
    &COLUMNS
}

const COLUMNS: [Column; 111] = [
    col(ALL_KINDS, "name", "/offer/name", Text),
    col(ALL_KINDS, "price", "/offer/price", Number),
    col(ALL_KINDS, "arrives_days", "/offer/arrives_days", Number),
    col(ALL_KINDS, "mass_g", "/offer/mass_g", Number),
    // Cells.
    col(&[Cell], "chemistry", "/chemistry", Word),
    or(col(&[Cell], "origin", "/origin", Word), "new"),
    or(col(&[Cell], "tested", "/tested", YesNo), "no"),
    col(&[Cell], "rated_ah", "/rated_ah", Number),
    or(col(&[Cell], "shape", "/size/shape", Word), "cylindrical"),
    col(&[Cell], "diameter_mm", "/size/diameter_mm", Number),
    col(&[Cell], "cell_thickness_mm", "/size/thickness_mm", Number),
    col(&[Cell], "cell_width_mm", "/size/width_mm", Number),
    col(&[Cell], "cell_length_mm", "/size/length_mm", Number),
    col(&[Cell], "dcir_ohm", "/dcir_ohm/value", Number),
    or(col(&[Cell], "dcir_how", "/dcir_ohm/how", Word), "stated"),
    col(&[Cell], "dcir_error_ohm", "/dcir_ohm/error", Number),
    col(&[Cell], "dcir_meter", "/dcir_ohm/meter", Text),
    col(&[Cell], "discharge_a", "/discharge_a", Number),
    col(&[Cell], "pulse_a", "/pulse_a", Number),
    col(&[Cell], "pulse_s", "/pulse_s", Number),
    col(&[Cell], "cell_charge_a", "/charge_a", Number),
    col(&[Cell], "full_v", "/full_v", Number),
    col(&[Cell], "end_v", "/end_v", Number),
    // Strips.
    col(&[Strip], "metal", "/metal", Word),
    col(&[Strip], "width_mm", "/width_mm", Number),
    col(&[Strip], "thickness_mm", "/thickness_mm", Number),
    or(col(&[Strip], "layers", "/layers", Count), "1"),
    or(col(&[Strip], "side_by_side", "/side_by_side", Count), "1"),
    or(col(&[Strip], "length_mm", "/length_mm", Number), "20"),
    // Boards.
    col(&[Module], "series", "/protects/series", Count),
    col(&[Module], "board_chemistry", "/protects/chemistry", Word),
    col(&[Module], "over_charge_v", "/protects/over_charge_v", Number),
    col(&[Module], "over_discharge_v", "/protects/over_discharge_v", Number),
    col(&[Module], "board_continuous_a", "/protects/continuous_a", Number),
    col(&[Module], "board_charge_a", "/protects/charge_a", Number),
    col(&[Module], "trip_a", "/protects/trip_a/value", Number),
    or(col(&[Module], "trip_how", "/protects/trip_a/how", Word), "stated"),
    col(&[Module], "trip_error_a", "/protects/trip_a/error", Number),
    col(&[Module], "trip_meter", "/protects/trip_a/meter", Text),
    col(&[Module], "trip_delay_s", "/protects/trip_delay_s", Number),
    col(&[Module], "short_a", "/protects/short_a", Number),
    col(&[Module], "bleed_a", "/protects/bleed_a", Number),
    col(&[Module], "senses_temperature", "/protects/senses_temperature", YesNo),
    col(&[Module], "wants_waking", "/protects/wants_waking", YesNo),
    col(&[Module], "board_path_ohm", "/protects/path_ohm", Number),
    col(&[Module], "detect_v", "/protects/detect_v", Number),
    col(&[Module], "detect_tolerance", "/protects/detect_tolerance", Number),
    col(&[Module], "transistor_ohm", "/protects/transistor_ohm", Number),
    col(&[Module], "pairs", "/protects/pairs", Count),
    col(&[Module], "port", "/protects/port", Word),
    col(&[Module], "resets", "/protects/resets", Word),
    col(&[Module], "trickle_a", "/protects/trickle_a", Number),
    // Chargers.
    or(col(&[Module], "charges_as", "/charges/kind", Word), "cc_cv"),
    col(&[Module], "charge_v", "/charges/output_v/value", Number),
    or(col(&[Module], "charge_how", "/charges/output_v/how", Word), "stated"),
    col(&[Module], "charge_error_v", "/charges/output_v/error", Number),
    col(&[Module], "charge_meter", "/charges/output_v/meter", Text),
    col(&[Module], "charge_a", "/charges/output_a", Number),
    col(&[Module], "charge_tolerance", "/charges/tolerance", Number),
    col(&[Module], "charge_efficiency", "/charges/efficiency", Number),
    or(col(&[Module], "own_supply", "/charges/own_supply", YesNo), "no"),
    col(&[Module], "printed_a", "/charges/printed_a", Number),
    col(&[Module], "charger_input_min_v", "/charges/input_min_v", Number),
    col(&[Module], "charger_input_max_v", "/charges/input_max_v", Number),
    col(&[Module], "pre_charge_a", "/charges/pre_charge_a", Number),
    col(&[Module], "ends_a", "/charges/ends_a", Number),
    col(&[Module], "restart_v", "/charges/restart_v", Number),
    col(&[Module], "back_leak_a", "/charges/back_leak_a", Number),
    col(&[Module], "balance_a", "/charges/balance_a", Number),
    // Converters.
    col(&[Module], "topology", "/converts/topology", Word),
    col(&[Module], "output_v", "/converts/output_v", Number),
    col(&[Module], "set_point_v", "/converts/set_point_v/value", Number),
    or(col(&[Module], "set_point_how", "/converts/set_point_v/how", Word), "stated"),
    col(&[Module], "set_point_error_v", "/converts/set_point_v/error", Number),
    col(&[Module], "set_point_meter", "/converts/set_point_v/meter", Text),
    or(col(&[Module], "wired_in", "/converts/wired_in", YesNo), "no"),
    col(&[Module], "input_min_v", "/converts/input_min_v", Number),
    col(&[Module], "input_max_v", "/converts/input_max_v", Number),
    col(&[Module], "input_a", "/converts/input_a", Number),
    col(&[Module], "output_a", "/converts/output_a", Number),
    col(&[Module], "efficiency", "/converts/efficiency", Number),
    col(&[Module], "dropout_v", "/converts/dropout_v", Number),
    col(&[Module], "sheds_w", "/converts/sheds_w", Number),
    col(&[Module], "own_w", "/converts/own_w", Number),
    col(&[Module], "converter_path_ohm", "/converts/path_ohm", Number),
    col(&[Module], "diode_v", "/converts/diode_v", Number),
    col(&[Module], "k_per_w", "/converts/k_per_w", Number),
    col(&[Module], "adjustable", "/converts/adjustable", YesNo),
    col(&[Module], "output_max_v", "/converts/output_max_v", Number),
    col(&[Module], "fixed_socket", "/converts/fixed_socket", YesNo),
    col(&[Module], "adjuster_on_leads", "/converts/adjuster_on_leads", YesNo),
    col(&[Module], "adjuster_clamped", "/converts/adjuster_clamped", YesNo),
    // Cut-off boards, alarms, supplies.
    col(&[Module], "cuts_off_v", "/cuts_off/at_v", Number),
    col(&[Module], "rearm_v", "/cuts_off/rearm_v", Number),
    col(&[Module], "alarm_cell_v", "/alarms/at_cell_v", Number),
    col(&[Module], "supply_v", "/supplies/output_v", Number),
    col(&[Module], "supply_a", "/supplies/output_a", Number),
    col(&[Module], "standby_a", "/standby_a", Number),
    // Fuses.
    or(col(&[Fuse], "style", "/style", Word), "blade"),
    col(&[Fuse], "rating_a", "/rating_a", Number),
    col(&[Fuse], "breaking_a", "/breaking_a", Number),
    // Fuses, plugs and switches.
    col(&[Fuse, Connector, Switch], "dc_v", "/dc_v", Number),
    col(&[Connector, Switch], "continuous_a", "/continuous_a", Number),
    col(&[Connector, Switch], "contact_ohm", "/contact_ohm", Number),
    col(&[Connector], "keyed", "/keyed", YesNo),
    col(&[Connector], "live_pins_bare", "/live_pins_bare", YesNo),
    // Wires.
    col(&[Wire], "wire_standard", "/size/standard", Word),
    col(&[Wire], "awg", "/size/awg", Count),
    col(&[Wire], "area_mm2", "/size/area_mm2", Number),
    or(col(&[Wire], "insulation", "/insulation", Word), "silicone"),
    or(col(&[Wire], "bundled", "/bundled", YesNo), "no"),
];
