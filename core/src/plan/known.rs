//! An input is a value with how it is known, or it is unknown; a part is open, none or chosen.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a value is known.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum How {
    /// A label or a data sheet says so.
    Stated,
    /// Read on an instrument.
    Measured,
    /// Taken for granted until something better is known.
    Assumed,
    /// Worked out from other inputs.
    Computed,
    /// The true value is this or more: a slow meter under-reads a start peak.
    LowerBound,
}

/// A value with how it is known. An unknown value is an absent `Known`, never zero.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Known {
    /// The value, in the unit that the field's name ends in.
    pub value: f64,
    /// How it is known.
    pub how: How,
    /// Error either way, in the same unit.
    #[serde(default)]
    pub error: Option<f64>,
    /// The meter it was read on.
    #[serde(default)]
    pub meter: Option<String>,
}

impl Known {
    /// A value that a label or a data sheet states.
    pub fn stated(value: f64) -> Self {
        Known { value, how: How::Stated, error: None, meter: None }
    }

    /// A value read on an instrument.
    pub fn measured(value: f64) -> Self {
        Known { value, how: How::Measured, error: None, meter: None }
    }

    /// Lowest and highest value that the error leaves open.
    pub fn band(&self) -> (f64, f64) {
        let error = self.error.unwrap_or(0.0);
        (self.value - error, self.value + error)
    }
}

/// A part that is not yet decided, decided against, or chosen.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(tag = "state", rename_all = "snake_case", deny_unknown_fields)]
pub enum Choice<T> {
    /// Not yet decided: the stage says "nothing yet", never "stop".
    #[default]
    #[serde(rename = "open")]
    Undecided,
    /// Decided: there is none.
    None,
    /// Decided: this one. The plan holds its own copy.
    Chosen {
        /// The part.
        part: T,
    },
}

impl<T> Choice<T> {
    /// A chosen part.
    pub fn chosen(part: T) -> Self {
        Choice::Chosen { part }
    }

    /// The part, if one is chosen.
    pub fn part(&self) -> Option<&T> {
        match self {
            Choice::Chosen { part } => Some(part),
            _ => None,
        }
    }

    /// Whether it is still to be decided.
    pub fn is_open(&self) -> bool {
        matches!(self, Choice::Undecided)
    }
}
