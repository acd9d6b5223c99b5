//! What stands between pack and device besides the line of parts: a gauge's divider, a change-over, a second pack.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Beside, Choice, Known, Module, Part, ReadyPack, Switch};
use crate::base::e_series::Series;

/// Everything of that kind; absent is not there, or not looked at yet.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Feed {
    /// The divider before the device's gauge, to be changed.
    pub gauge: Option<GaugeDivider>,
    /// Whether the gauge's sense wire is led to the pack itself, past a converter, with its divider as it was made.
    pub gauge_led: Option<bool>,
    /// How the device changes over to the pack when the mains goes.
    pub change_over: Option<ChangeOver>,
    /// A second pack, or up to three more alike, switched in series or in parallel with the first.
    pub second: Option<SecondPack>,
    /// Holders from which the user takes the cells.
    pub holder: Option<CellHolder>,
    /// Whether the pack sits outside the device, and how it is joined to it.
    pub outside: Option<Outside>,
    /// What else draws while the device runs.
    pub beside: Vec<Beside>,
}

/// What stands between one cell and the others.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum EachCell {
    /// Nothing.
    Nothing,
    /// A fuse of its own.
    Fuse,
    /// A transistor driven as a diode: current out, none in.
    IdealDiode,
}

/// Holders side by side, a cell in each, as many as the pack has in parallel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CellHolder {
    /// With how few cells it must work.
    pub fewest: u32,
    /// Current that the contacts of one holder are rated for.
    #[serde(default)]
    pub contact_a: Option<f64>,
    /// Resistance of both contacts of one holder.
    #[serde(default)]
    pub contact_ohm: Option<f64>,
    /// What stands between one cell and the others.
    #[serde(default)]
    pub each: Option<EachCell>,
    /// Current that this is rated for.
    #[serde(default)]
    pub each_a: Option<f64>,
    /// Whether the cells are charged where they sit.
    #[serde(default)]
    pub charged_in_place: Option<bool>,
}

impl CellHolder {
    /// Holders of which nothing is known but with how few cells they must work.
    pub fn with_at_least(fewest: u32) -> CellHolder {
        CellHolder { fewest, contact_a: None, contact_ohm: None, each: None, each_a: None, charged_in_place: None }
    }
}

/// How a pack outside the device is joined to it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Outside {
    /// A plug on a lead.
    Plug,
    /// An adapter that a tool pack slides onto.
    Adapter,
}

/// The resistor of a divider that is changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Leg {
    /// From the battery to the sense input.
    #[default]
    Top,
    /// From the sense input to minus.
    Bottom,
}

/// The divider before a gauge's sense input.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GaugeDivider {
    /// Resistor from the battery to the sense input.
    pub top_ohm: f64,
    /// Resistor from the sense input to minus.
    pub bottom_ohm: f64,
    /// Resistance of the sense input itself; absent takes nothing.
    #[serde(default)]
    pub input_ohm: Option<f64>,
    /// Which of the two is changed.
    #[serde(default)]
    pub changes: Leg,
    /// The series the new resistor is taken from.
    pub series: Series,
    /// The resistor that lies in the drawer and is to be used; absent is the nearest of the series.
    #[serde(default)]
    pub in_hand_ohm: Option<f64>,
    /// Whether the pack feeds the divider while the device is off.
    #[serde(default)]
    pub always_on: Option<bool>,
    /// Voltage the device shows now, and those a meter reads at the same time.
    #[serde(default)]
    pub shown_v: Option<Known>,
    /// Voltage at the battery leads while it shows that.
    #[serde(default)]
    pub true_v: Option<Known>,
    /// Voltage the device shows once the resistor is changed.
    #[serde(default)]
    pub after_shown_v: Option<Known>,
    /// Voltage at the battery leads while it shows that.
    #[serde(default)]
    pub after_true_v: Option<Known>,
}

/// What changes over.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChangesBy {
    /// A diode: no gap, but its voltage is lost.
    Diode,
    /// A transistor driven as a diode: no gap, hardly any loss.
    IdealDiode,
    /// A relay: a gap, no loss.
    Relay,
}

/// A change-over between mains and pack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangeOver {
    /// What changes over.
    pub by: ChangesBy,
    /// Time without a feed; absent is the usual time of its kind.
    #[serde(default)]
    pub gap_s: Option<f64>,
    /// Current of the relay's coil where the battery holds it; absent or 0 where the mains does.
    #[serde(default)]
    pub coil_a: Option<f64>,
    /// Capacitor at the device's input.
    #[serde(default)]
    pub hold_up_f: Option<f64>,
    /// Voltage a comparator sees while the host charges.
    #[serde(default)]
    pub host_charging_v: Option<Known>,
    /// Voltage it sees while the host runs on the pack.
    #[serde(default)]
    pub host_on_battery_v: Option<Known>,
    /// Voltage at which the comparator is set to change.
    #[serde(default)]
    pub threshold_v: Option<f64>,
    /// Distance between its two thresholds.
    #[serde(default)]
    pub hysteresis_v: Option<f64>,
}

/// The second of two packs, or all further ones of up to four: set in series or in parallel with the first by a switch, or used in its place.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct SecondPack {
    /// The pack itself, where it is taken as a whole: it then decides its counts, capacity and resistance.
    pub ready: Choice<ReadyPack>,
    /// How many packs like it there are besides the first; absent is one.
    pub count: Option<u32>,
    /// Its cells in series; absent is as the first.
    pub series: Option<u32>,
    /// Its capacity; absent is as the first.
    pub capacity_ah: Option<f64>,
    /// Its resistance with its leads; absent is as the first.
    pub pack_ohm: Option<f64>,
    /// Voltage of the first pack at rest before they are joined.
    pub first_rest_v: Option<Known>,
    /// Voltage of the second pack at rest before they are joined.
    pub rest_v: Option<Known>,
    /// Whether each pack has a guard of its own against deep discharge.
    pub each_guarded: Option<bool>,
    /// Its own board or cut-off.
    pub guard: Choice<Part>,
    /// The switch that changes the positions.
    pub selector: Choice<Part>,
    /// Whether the switch breaks one position before it makes the other.
    pub break_before_make: Option<bool>,
    /// Whether the device is ever set to the packs in series.
    pub used_in_series: Option<bool>,
    /// Whether the device is ever set to the packs in parallel.
    pub used_in_parallel: Option<bool>,
    /// Whether the device runs on either pack alone.
    pub used_alone: Option<bool>,
}

impl SecondPack {
    /// Takes over what its ready pack decides.
    pub(super) fn follow(&mut self) {
        let Some(ready) = self.ready.part() else { return };
        self.series = Some(ready.series);
        self.capacity_ah = Some(ready.counted_ah.unwrap_or(ready.capacity_ah));
        self.pack_ohm = ready.resistance_ohm.as_ref().map(|known| known.value);
    }

    /// How many packs like it there are, as a number to multiply with.
    pub fn alike(&self) -> f64 {
        f64::from(self.count.unwrap_or(1))
    }

    /// The module that guards it, if one is chosen.
    pub fn guard(&self) -> Option<&Module> {
        match self.guard.part() {
            Some(Part::Module { module }) => Some(module),
            _ => None,
        }
    }

    /// The switch that changes the positions, if one is chosen.
    pub fn selector(&self) -> Option<&Switch> {
        match self.selector.part() {
            Some(Part::Switch { switch }) => Some(switch),
            _ => None,
        }
    }

    /// Whether it breaks before it makes: as the chosen one does, else as was said.
    pub fn breaks_before_it_makes(&self) -> Option<bool> {
        self.selector().and_then(|s| s.break_before_make).or(self.break_before_make)
    }
}
