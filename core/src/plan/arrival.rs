//! What was read on a part when it arrived, before it was built in.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Known;

/// The outcome of one arrival test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Arrival {
    /// Id of the node whose part was tested.
    pub place: String,
    /// Id of the test.
    pub test: String,
    /// Name of the part it was done on: a reading says nothing about another one.
    pub part: String,
    /// What was read, where the test asks for a reading.
    #[serde(default)]
    pub reading: Option<Known>,
    /// Whether it was as it should be, where the test asks that.
    #[serde(default)]
    pub passed: Option<bool>,
}

/// The dummy battery that is at hand for the tests of a charger: a capacitor behind a resistor. What is absent is proposed.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct DummyBattery {
    /// Its resistor.
    pub resistor_ohm: Option<f64>,
    /// Its capacitor.
    pub capacitor_f: Option<f64>,
}
