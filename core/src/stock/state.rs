//! Where a cell stands between the box it came in and the box it goes to.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// State of a cell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CellState {
    /// Nothing was read on it yet.
    New,
    /// Something was read on it.
    Tested,
    /// A plan uses it.
    Reserved,
    /// It stands in a pack.
    BuiltIn,
    /// It is not used again.
    Retired,
}

impl CellState {
    /// Every state, in the order of a cell's life.
    pub const ALL: [CellState; 5] =
        [CellState::New, CellState::Tested, CellState::Reserved, CellState::BuiltIn, CellState::Retired];

    /// As it is kept and typed.
    pub fn key(self) -> &'static str {
        match self {
            CellState::New => "new",
            CellState::Tested => "tested",
            CellState::Reserved => "reserved",
            CellState::BuiltIn => "built_in",
            CellState::Retired => "retired",
        }
    }

    /// The state of that key.
    pub fn of(key: &str) -> Option<CellState> {
        CellState::ALL.into_iter().find(|s| s.key() == key)
    }

    /// Whether a maker may put a cell from this state into another by hand.
    ///
    /// Reserving and releasing belong to the plan that uses the cell; a reserved cell cannot be retired behind
    /// its back.
    pub fn may_become(self, next: CellState) -> bool {
        use CellState::{BuiltIn, New, Reserved, Retired, Tested};
        matches!((self, next), (New | Tested | BuiltIn, Retired) | (Retired | BuiltIn, Tested) | (Reserved, BuiltIn))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_reserved_cell_is_built_in_but_never_retired_behind_its_plan() {
        assert!(CellState::Reserved.may_become(CellState::BuiltIn));
        assert!(!CellState::Reserved.may_become(CellState::Retired));
        assert!(CellState::ALL.iter().all(|s| !s.may_become(CellState::Reserved) && !s.may_become(*s)));
        assert!(CellState::ALL.iter().all(|&s| CellState::of(s.key()) == Some(s)));
    }
}
