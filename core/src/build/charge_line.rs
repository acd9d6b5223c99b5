//! A line of a charge that is logged.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::range;
use crate::plan::FieldError;

/// One line of a charge that is logged.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChargeLine {
    /// Since the charger was connected.
    pub after_s: f64,
    /// At the cells.
    #[serde(default)]
    pub pack_v: Option<f64>,
    /// Into the pack.
    #[serde(default)]
    pub current_a: Option<f64>,
    /// Highest against lowest group.
    #[serde(default)]
    pub apart_v: Option<f64>,
    /// On the charger's side of the board.
    #[serde(default)]
    pub input_v: Option<f64>,
}

impl ChargeLine {
    /// What cannot stand in it: figures that no bench shows, and nothing read at all.
    pub fn check(&self) -> Vec<FieldError> {
        let mut errors = vec![];
        let mut held = |field: &str, value: Option<f64>, range: &range::Range| {
            if let Some(Err(error)) = value.map(|v| range.check(v)) {
                errors.push(FieldError { field: field.to_owned(), message: error.to_string() });
            }
        };
        held("/after_s", Some(self.after_s), &range::BUILD_TIME);
        held("/pack_v", self.pack_v, &range::BUILD_VOLTS);
        held("/current_a", self.current_a, &range::BUILD_AMPS);
        held("/apart_v", self.apart_v, &range::SMALL_VOLTS);
        held("/input_v", self.input_v, &range::BUILD_VOLTS);
        if [self.pack_v, self.current_a, self.apart_v, self.input_v].iter().all(Option::is_none) {
            let message = "Voltage or current: at least one reading".to_owned();
            errors.push(FieldError { field: "/pack_v".to_owned(), message });
        }
        errors
    }
}
