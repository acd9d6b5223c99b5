//! What is bought besides the parts of the circuit, and what it is weighed against.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a plan costs besides its parts, and against what.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Buying {
    /// Price of a bought pack or device in its place.
    pub replacement_price: Option<f64>,
    /// Tape, sleeve, screws and whatever else is used up.
    pub extras: Vec<Extra>,
}

/// Something that is used up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Extra {
    /// What it is.
    pub name: String,
    /// How many.
    pub count: f64,
    /// Price of one.
    #[serde(default)]
    pub price: Option<f64>,
    /// Whether it lies there already.
    #[serde(default)]
    pub at_hand: Option<bool>,
}
