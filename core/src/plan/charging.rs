//! How the pack is charged: the charger, what feeds it, and what was read at jack and plug.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Known;
use super::fields::settles::{DRAIN, SIDE};
use super::fields::{
    AMPS, CHARGER_KINDS, Heard, PartKind, VOLTS, choice, known, named, named_but, part_fields, quantity, yes_no,
};
use crate::base::range;

/// What a charger does at its output.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ChargesAs {
    /// Constant current, then constant voltage: made for lithium.
    CcCv,
    /// Fixed voltage without a current limit: a converter or a plain supply.
    FixedVolts,
    /// A charger for nickel batteries.
    Nickel,
    /// A charger for lead-acid batteries.
    LeadAcid,
}

part_fields! {
    /// What a charger does.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Charger at "/charges" of &[PartKind::Charger];
    /// How its output behaves.
    pub kind: ChargesAs = choice("Kind", CHARGER_KINDS).needed().column("charges_as").or("cc_cv"),
    /// End voltage as stated or measured.
    pub output_v: Known = known("End voltage", &range::DEVICE_VOLTS)
        .needed()
        .column("charge_v")
        .asked(1, "A capacitor through a resistor as dummy battery; read where it stops.")
        .heard(&[named_but(r"output|charg|full|cut.?off|terminat|end", "input|supply", VOLTS)]),
    /// Charge current.
    pub output_a: Option<f64> = quantity("Charge current", &range::CURRENT)
        .column("charge_a")
        .asked(2, SIDE)
        .heard(&[named_but(r"output|charg", "input|supply|cut.?off|terminat", AMPS)]),
    /// Relative tolerance of the end voltage.
    pub tolerance: Option<f64> = quantity("Tolerance", &range::TOLERANCE)
        .column("charge_tolerance")
        .asked(3, "The end voltage of this one, read on a meter.")
        .careful_is_larger()
        .heard(&[named(r"accura|toleran|precis", (0.0001, 0.2))]),
    /// Efficiency from supply to pack.
    pub efficiency: Option<f64> = quantity("Efficiency", &range::EFFICIENCY)
        .column("charge_efficiency")
        .settled_by(SIDE)
        .heard(&[named(r"efficien", (0.2, 1.0))]),
    /// Whether it plugs into the wall itself; then no supply is asked for.
    pub own_supply: bool = yes_no("Plugs into the mains itself")
        .needed()
        .or("no")
        .heard(&[Heard::Yes(r"100.{0,3}240|mains|wall plug|ac input")]),
    /// A current printed on it of which it is not stated whether it is that of its input or of its output.
    pub printed_a: Option<f64> = quantity("Printed current, input or output not known", &range::CURRENT),
    /// Minimum voltage that may feed it.
    pub input_min_v: Option<f64> = quantity("Minimum input voltage", &range::DEVICE_VOLTS).column("charger_input_min_v"),
    /// Maximum voltage that may feed it.
    pub input_max_v: Option<f64> = quantity("Maximum input voltage", &range::DEVICE_VOLTS).column("charger_input_max_v"),
    /// Current into a nearly empty pack, until its cells have come to their sensible end of discharge.
    pub pre_charge_a: Option<f64> = quantity("Current into empty cells", &range::CURRENT),
    /// Current at which it ends the charge.
    pub ends_a: Option<f64> = quantity("End current", &range::CURRENT),
    /// Whether it ends the charge by itself; a bench supply holds its voltage without end.
    pub ends_itself: Option<bool> = yes_no("Ends the charge by itself"),
    /// Pack voltage at which it begins again.
    pub restart_v: Option<f64> = quantity("Restart voltage", &range::DEVICE_VOLTS),
    /// Current it takes out of the pack when nothing feeds it.
    pub back_leak_a: Option<f64> = quantity("Reverse leakage", &range::BENCH_CURRENT)
        .settled_by(DRAIN)
        .careful_is_larger()
        .heard(&[named(r"quiescent|stand.?by|leak|reverse", (1e-7, 0.1))]),
    /// Balance current over its tap plug: it then is a hobby charger.
    pub balance_a: Option<f64> = quantity("Balance current, through the taps", &range::CURRENT),
}

impl Charger {
    /// A charger of which only its kind, its end voltage and its current are decided.
    pub fn of(kind: ChargesAs, output_v: Known, output_a: Option<f64>) -> Self {
        Charger {
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
            ends_itself: None,
            restart_v: None,
            back_leak_a: None,
            balance_a: None,
        }
    }
}

part_fields! {
    /// What a supply gives a charger.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Supplies at "/supplies" of &[PartKind::Supply];
    /// Output voltage.
    pub output_v: f64 = quantity("Output voltage", &range::DEVICE_VOLTS).needed().column("supply_v"),
    /// Output current.
    pub output_a: f64 = quantity("Output current", &range::CURRENT).needed().column("supply_a"),
}

/// What becomes of a charge circuit that the device has.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HostCircuit {
    /// It is cut off from the battery leads.
    CutOff,
    /// Its voltage only says that there is mains; the pack has a charger of its own.
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
    /// Whether the device's own charge circuit is the supply of the pack's charger.
    pub fed_by_host: Option<bool>,
    /// Whether a diode or a relay keeps the new feed off the host's charge node.
    pub host_isolated: Option<bool>,
    /// Voltage at the jack with the pack connected, red probe on the inner contact; below zero is minus inside.
    pub jack_v: Option<Known>,
    /// Voltage at the charger's plug, red probe on the inner contact; below zero is minus inside.
    pub plug_v: Option<Known>,
    /// Voltage of the pack at the cells themselves.
    pub cells_v: Option<Known>,
    /// Voltage at the pack's way out, behind the board, at the same moment, red probe on plus.
    pub out_v: Option<Known>,
}
