//! What else draws while the device runs: a lamp, a fan, a panel meter, a second output.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Draw;

/// One consumer beside the device.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Beside {
    /// Short and stable inside the plan.
    pub id: String,
    /// The maker's word for it.
    pub name: String,
    /// What it draws, at its own voltage.
    pub draw: Draw,
    /// Where it is connected.
    #[serde(default)]
    pub fed: FedFrom,
    /// Voltage that a regulator of its own holds; absent is connected without one.
    #[serde(default)]
    pub own_v: Option<f64>,
    /// Efficiency of that regulator; absent is typical.
    #[serde(default)]
    pub efficiency: Option<f64>,
    /// Whether it draws while the device is off, too.
    #[serde(default)]
    pub always: bool,
}

/// Where a consumer beside the device is connected.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum FedFrom {
    /// To the battery, before a converter.
    #[default]
    Battery,
    /// To what feeds the device; behind the converter where there is one.
    Output,
}
