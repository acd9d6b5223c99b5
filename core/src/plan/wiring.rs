//! What is known of the wiring besides the runs: sense and tap wires, strain relief, a panel meter, a plug that sets packs in series.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::WireSize;

/// How the wiring is done.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Wiring {
    /// The wires from the taps to the board or the tap plug.
    pub taps: Option<TapWires>,
    /// Whether something holds the leads, so that a pull does not reach a joint.
    pub strain_relief: Option<bool>,
    /// Whether a panel meter reads the pack or the output.
    pub panel_meter: Option<bool>,
    /// Whether that meter has a supply of its own, apart from what it measures.
    pub meter_isolated: Option<bool>,
    /// Current that meter draws.
    pub meter_a: Option<f64>,
    /// Capacity of the supply of its own.
    pub meter_supply_ah: Option<f64>,
    /// Whether packs are joined by plugs that also fit the other way, series for parallel.
    pub plugs_swap: Option<bool>,
}

/// The wires from the taps.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct TapWires {
    /// Their thickness.
    pub size: Option<WireSize>,
    /// The longest, one way.
    pub length_mm: Option<f64>,
    /// Whether each has a fuse or a fusible resistor of its own at its tap.
    pub fused: Option<bool>,
    /// Whether the order of their pins was read on a meter, from pack minus up.
    pub order_read: Option<bool>,
}
