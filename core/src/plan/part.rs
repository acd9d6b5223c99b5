//! Parts of the power path. A module may protect, charge, convert, cut off and supply at once.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Charges, Known, Supplies};
use crate::chemistry::Chemistry;

/// Name, price and arrival of any part.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Offer {
    /// What it is, in general words.
    pub name: String,
    /// The catalogue's id it was copied from; absent when typed by hand.
    #[serde(default)]
    pub catalogue_id: Option<String>,
    /// Price of one, in the plan's currency (a metre for wire and strip).
    #[serde(default)]
    pub price: Option<f64>,
    /// Days until it arrives; 0 is at hand.
    #[serde(default)]
    pub arrives_days: Option<f64>,
    /// Mass of one (a metre for wire).
    #[serde(default)]
    pub mass_g: Option<f64>,
}

/// An electronic part with any of five capabilities.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Module {
    /// Name and where it came from.
    pub offer: Offer,
    /// Guards the cells.
    #[serde(default)]
    pub protects: Option<Protects>,
    /// Charges the cells.
    #[serde(default)]
    pub charges: Option<Charges>,
    /// Changes the volts to the device.
    #[serde(default)]
    pub converts: Option<Converts>,
    /// Ends the discharge at set pack volts.
    #[serde(default)]
    pub cuts_off: Option<CutsOff>,
    /// Only warns; somebody must act.
    #[serde(default)]
    pub alarms: Option<Alarms>,
    /// Feeds a charger.
    #[serde(default)]
    pub supplies: Option<Supplies>,
    /// Current it draws from the pack at rest.
    #[serde(default)]
    pub standby_a: Option<f64>,
}

/// What a protection board does.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Protects {
    /// Cells in series it is made for.
    pub series: Option<u32>,
    /// Chemistry it is sold for.
    pub chemistry: Option<Chemistry>,
    /// Opens the charge at these volts of one cell.
    pub over_charge_v: Option<f64>,
    /// Opens the discharge at these volts of one cell.
    pub over_discharge_v: Option<f64>,
    /// Continuous discharge current.
    pub continuous_a: Option<f64>,
    /// Highest charge current.
    pub charge_a: Option<f64>,
    /// Over-current trip; its error is half the band.
    pub trip_a: Option<Known>,
    /// Delay before the over-current trip.
    pub trip_delay_s: Option<f64>,
    /// Short-circuit trip.
    pub short_a: Option<f64>,
    /// Bleed current of the balancer; 0 is a board without one.
    pub bleed_a: Option<f64>,
    /// Whether it senses the cells' temperature.
    pub senses_temperature: Option<bool>,
    /// Whether it gives no output until a charger has woken it.
    pub wants_waking: Option<bool>,
    /// Resistance from pack to load.
    pub path_ohm: Option<f64>,
    /// Volts over its transistors at which the detector trips.
    #[serde(default)]
    pub detect_v: Option<f64>,
    /// Relative tolerance of those volts.
    #[serde(default)]
    pub detect_tolerance: Option<f64>,
    /// On-resistance of one transistor, cold.
    #[serde(default)]
    pub transistor_ohm: Option<f64>,
    /// Pairs of transistors in parallel; a pair is one for the charge and one for the discharge, in series.
    #[serde(default)]
    pub pairs: Option<u32>,
    /// Where the charger goes.
    #[serde(default)]
    pub port: Option<Port>,
    /// What closes it again after a trip.
    #[serde(default)]
    pub resets: Option<Resets>,
    /// Current of a resistor's way round it, by which a charger wakes it or fills the last cell.
    #[serde(default)]
    pub trickle_a: Option<f64>,
}

/// Terminals of a board.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Port {
    /// Load and charger on the same minus, P−.
    Common,
    /// The charger has a minus of its own, C−.
    Separate,
}

/// What closes a board again after an over-current trip.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Resets {
    /// The load is taken off.
    LoadOff,
    /// A charger is connected.
    Charger,
    /// It closes by itself after a while.
    ByItself,
}

/// How a converter changes volts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Topology {
    /// Down only.
    Buck,
    /// Up only.
    Boost,
    /// Down and up.
    BuckBoost,
}

/// What a converter does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Converts {
    /// Down, up, or both.
    pub topology: Topology,
    /// Volts it is set to.
    pub output_v: f64,
    /// The set point as read on a meter.
    pub set_point_v: Option<Known>,
    /// Whether it is wired in already.
    pub wired_in: bool,
    /// Lowest input volts.
    pub input_min_v: Option<f64>,
    /// Highest input volts.
    pub input_max_v: Option<f64>,
    /// Highest input current.
    pub input_a: Option<f64>,
    /// Highest output current.
    pub output_a: Option<f64>,
    /// Efficiency at the usual load.
    pub efficiency: Option<f64>,
    /// Head room a buck needs.
    pub dropout_v: Option<f64>,
    /// Heat it can shed where it sits.
    pub sheds_w: Option<f64>,
    /// What it takes for itself while it runs.
    #[serde(default)]
    pub own_w: Option<f64>,
    /// Resistance in its inductor's way.
    #[serde(default)]
    pub path_ohm: Option<f64>,
    /// Forward volts of its diode.
    #[serde(default)]
    pub diode_v: Option<f64>,
    /// Rise of its hottest part over the air, a watt of heat.
    #[serde(default)]
    pub k_per_w: Option<f64>,
    /// Whether its user turns its output.
    #[serde(default)]
    pub adjustable: Option<bool>,
    /// Most volts it can be turned to.
    #[serde(default)]
    pub output_max_v: Option<f64>,
    /// Whether a socket made for fixed volts hangs on its output.
    #[serde(default)]
    pub fixed_socket: Option<bool>,
    /// Whether its adjuster was moved out on leads.
    #[serde(default)]
    pub adjuster_on_leads: Option<bool>,
    /// Whether end resistors or a clamp hold the output when a lead of the adjuster opens.
    #[serde(default)]
    pub adjuster_clamped: Option<bool>,
}

impl Converts {
    /// A converter of which only its kind and its set point are decided.
    pub fn to(topology: Topology, output_v: f64) -> Self {
        Converts {
            topology,
            output_v,
            set_point_v: None,
            wired_in: false,
            input_min_v: None,
            input_max_v: None,
            input_a: None,
            output_a: None,
            efficiency: None,
            dropout_v: None,
            sheds_w: None,
            own_w: None,
            path_ohm: None,
            diode_v: None,
            k_per_w: None,
            adjustable: None,
            output_max_v: None,
            fixed_socket: None,
            adjuster_on_leads: None,
            adjuster_clamped: None,
        }
    }
}

/// What a cut-off board does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CutsOff {
    /// Pack volts at which it opens.
    pub at_v: f64,
    /// Pack volts at which it closes again.
    pub rearm_v: Option<f64>,
}

/// What an alarm does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Alarms {
    /// Volts of one cell at which it sounds.
    pub at_cell_v: f64,
}

/// Build of a fuse; it decides what the fuse carries for good.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FuseStyle {
    /// Blade fuse of vehicles.
    Blade,
    /// Glass cartridge, fast.
    GlassFast,
    /// Glass cartridge, time-lag.
    GlassTimeLag,
    /// Another build, of which no curve is known here.
    Other,
}

/// A fuse.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Fuse {
    /// Name and where it came from.
    pub offer: Offer,
    /// Blade or glass.
    pub style: FuseStyle,
    /// Rated current.
    pub rating_a: f64,
    /// Highest DC volts it may open at; absent where only AC is stated.
    pub dc_v: Option<f64>,
    /// Highest current it can break.
    pub breaking_a: Option<f64>,
}

/// Thickness of a wire.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "standard", rename_all = "snake_case", deny_unknown_fields)]
pub enum WireSize {
    /// American wire gauge; 0 is 1/0.
    Awg {
        /// Gauge number.
        awg: i32,
    },
    /// Metric cross-section.
    Metric {
        /// Cross-section.
        area_mm2: f64,
    },
}

/// Insulation of a wire; it decides what a short overload may heat it to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Insulation {
    /// PVC.
    Pvc,
    /// Silicone, or another insulation good for 90 C and more.
    Silicone,
}

/// A wire.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wire {
    /// Name and where it came from; price and mass are per metre.
    pub offer: Offer,
    /// Thickness.
    pub size: WireSize,
    /// Insulation.
    pub insulation: Insulation,
    /// Whether it lies in a bundle or a closed case.
    pub bundled: bool,
}

/// A connector or a jack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Connector {
    /// Name and where it came from.
    pub offer: Offer,
    /// Continuous current.
    pub continuous_a: Option<f64>,
    /// Highest DC volts.
    pub dc_v: Option<f64>,
    /// Whether it fits one way only.
    pub keyed: Option<bool>,
    /// Whether the half that is live when unplugged has bare pins.
    pub live_pins_bare: Option<bool>,
    /// Resistance of both contacts together.
    pub contact_ohm: Option<f64>,
}

/// A switch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Switch {
    /// Name and where it came from.
    pub offer: Offer,
    /// Continuous current.
    pub continuous_a: Option<f64>,
    /// Highest DC volts it may break; absent where only AC is stated.
    pub dc_v: Option<f64>,
    /// Resistance when closed.
    pub contact_ohm: Option<f64>,
}
