//! The stages in the order of the work.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A stage of the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// Survey the device.
    Device,
    /// Match the voltage.
    Voltage,
    /// Choose the cells.
    Cells,
    /// Join them.
    Brick,
    /// Guard them.
    Protection,
    /// Charge them.
    Charging,
    /// Wire them.
    Wiring,
    /// Predict the run.
    Run,
}

impl Stage {
    /// All stages, in order.
    pub const ALL: [Stage; 8] = [
        Stage::Device,
        Stage::Voltage,
        Stage::Cells,
        Stage::Brick,
        Stage::Protection,
        Stage::Charging,
        Stage::Wiring,
        Stage::Run,
    ];

    /// The stage a rule belongs to: the word before its dot.
    pub fn of_rule(rule: &str) -> Stage {
        match rule.split('.').next().unwrap_or_default() {
            "device" => Stage::Device,
            "voltage" => Stage::Voltage,
            "cells" => Stage::Cells,
            "brick" => Stage::Brick,
            "protection" => Stage::Protection,
            "charging" => Stage::Charging,
            "wiring" => Stage::Wiring,
            _ => Stage::Run,
        }
    }
}
