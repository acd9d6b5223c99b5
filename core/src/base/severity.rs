//! How bad what is found is, in a plan as in a box of cells.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How bad a finding is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// Worth knowing.
    Note,
    /// Works, with a risk or loss to be accepted by name.
    Caution,
    /// Do not build or power this.
    Stop,
}
