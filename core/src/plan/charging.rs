//! How the pack is charged: the charger, what feeds it, and what was read at jack and plug.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Known;

/// What a charger does at its output.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChargesAs {
    /// Constant current, then constant voltage: made for lithium.
    CcCv,
    /// Fixed volts without a current limit: a converter or a plain supply.
    FixedVolts,
    /// A charger for nickel batteries.
    Nickel,
    /// A charger for lead-acid batteries.
    LeadAcid,
}

/// What a charger does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Charges {
    /// How its output behaves.
    pub kind: ChargesAs,
    /// End volts as stated or measured.
    pub output_v: Known,
    /// Charge current.
    pub output_a: Option<f64>,
    /// Relative tolerance of the end volts.
    pub tolerance: Option<f64>,
    /// Efficiency from supply to pack.
    pub efficiency: Option<f64>,
    /// Whether it plugs into the wall itself; then no supply is asked for.
    pub own_supply: bool,
    /// A current printed on it of which nobody says whether it is that of its input or of its output.
    #[serde(default)]
    pub printed_a: Option<f64>,
    /// Lowest volts that may feed it.
    #[serde(default)]
    pub input_min_v: Option<f64>,
    /// Highest volts that may feed it.
    #[serde(default)]
    pub input_max_v: Option<f64>,
    /// Current into a nearly empty pack, until its cells have come to their sensible end of discharge.
    #[serde(default)]
    pub pre_charge_a: Option<f64>,
    /// Current at which it ends the charge.
    #[serde(default)]
    pub ends_a: Option<f64>,
    /// Pack volts at which it begins again.
    #[serde(default)]
    pub restart_v: Option<f64>,
    /// Current it takes out of the pack when nothing feeds it.
    #[serde(default)]
    pub back_leak_a: Option<f64>,
    /// Balance current over its tap plug: it then is a hobby charger.
    #[serde(default)]
    pub balance_a: Option<f64>,
}

impl Charges {
    /// A charger of which only its kind, its end volts and its current are decided.
    pub fn of(kind: ChargesAs, output_v: Known, output_a: Option<f64>) -> Self {
        Charges {
            kind,
            output_v,
            output_a,
            tolerance: None,
            efficiency: None,
            own_supply: false,
            printed_a: None,
            input_min_v: None,
            input_max_v: None,
            pre_charge_a: None,
            ends_a: None,
            restart_v: None,
            back_leak_a: None,
            balance_a: None,
        }
    }
}

/// What a supply gives a charger.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Supplies {
    /// Output volts.
    pub output_v: f64,
    /// Output current.
    pub output_a: f64,
}

/// What becomes of a charge circuit that the device has.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HostCircuit {
    /// It is cut off from the battery leads.
    CutOff,
    /// Its volts only say that there is mains; the pack has a charger of its own.
    Followed,
    /// It charges the pack.
    ChargesPack,
}

/// Everything about the charge that is not a part.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Charging {
    /// Whether the pack is taken out to be charged.
    pub taken_out: Option<bool>,
    /// What becomes of the device's own charge circuit.
    pub host: Option<HostCircuit>,
    /// Whether a diode or a relay keeps the new feed off the host's charge node.
    pub host_isolated: Option<bool>,
    /// Volts at the jack with the pack connected, red probe on the inner contact; below zero is minus inside.
    pub jack_v: Option<Known>,
    /// Volts at the charger's plug, red probe on the inner contact; below zero is minus inside.
    pub plug_v: Option<Known>,
    /// Volts of the pack at the cells themselves.
    pub cells_v: Option<Known>,
    /// Volts at the pack's way out, behind the board, at the same moment, red probe on plus.
    pub out_v: Option<Known>,
}
