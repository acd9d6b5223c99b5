//! A meter at hand, as its manual states it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a meter reads on a range.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Reads {
    /// DC voltage.
    Volts,
    /// DC amperes.
    Amps,
    /// Ohms.
    Ohms,
    /// Watts.
    Watts,
}

/// One range of a meter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Meter {
    /// Short and stable inside the plan.
    pub id: String,
    /// What it is called on the bench.
    pub name: String,
    /// What it reads.
    pub reads: Reads,
    /// End of the range, in voltage, amperes, ohms or watts.
    pub range: f64,
    /// Smallest step of its display, in the same unit.
    pub step: f64,
    /// Share of the reading in its error: 0.005 for 0.5 %.
    pub error_share: f64,
    /// Steps of the display in its error: 2 for "+ 2 digits".
    pub error_steps: f64,
    /// Resistance it puts into the circuit, for amperes.
    #[serde(default)]
    pub burden_ohm: Option<f64>,
    /// Time from one reading to the next.
    #[serde(default)]
    pub every_s: Option<f64>,
}
