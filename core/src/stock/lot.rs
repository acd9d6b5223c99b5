//! A lot: cells that came together.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::reading::Method;
use crate::base::table::day;
use crate::plan::{Cell, FieldError, faults};

/// Longest name, and longest note on where it came from.
const NAME_MAX: usize = 120;
const NOTES_MAX: usize = 2000;

/// A lot of cells, as bought or taken out of something.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Lot {
    /// Name by which the maker finds it again.
    pub name: String,
    /// Where it came from.
    #[serde(default)]
    pub source: String,
    /// Day it came or was bought: 2026-11-25.
    #[serde(default)]
    pub bought_on: Option<String>,
    /// The cell as claimed: size, chemistry, capacity, resistance when new, currents; price of one, days to arrive.
    pub cell: Cell,
    /// How the stated resistance was measured; absent is not stated.
    #[serde(default)]
    pub stated_ohm_by: Option<Method>,
    /// Free words.
    #[serde(default)]
    pub notes: String,
}

impl Lot {
    /// Every field that cannot stand.
    pub fn check(&self) -> Vec<FieldError> {
        let mut errors = faults("/cell", &self.cell);
        let mut require = |holds: bool, field: &str, message: &str| {
            if !holds {
                errors.push(FieldError { field: field.to_owned(), message: message.to_owned() });
            }
        };
        let length = self.name.trim().chars().count();
        require((1..=NAME_MAX).contains(&length), "/name", "Name: 1 to 120 characters");
        require(self.source.chars().count() <= NOTES_MAX, "/source", "Where from: at most 2000 characters");
        require(self.notes.chars().count() <= NOTES_MAX, "/notes", "Notes: at most 2000 characters");
        require(
            self.bought_on.as_deref().is_none_or(|d| day(d).is_some()),
            "/bought_on",
            "Came on: a day as 2026-11-25",
        );
        require(
            self.cell.chemistry.facts().rechargeable_lithium,
            "/cell/chemistry",
            "Chemistry: one of rechargeable lithium or sodium cells",
        );
        errors
    }
}
