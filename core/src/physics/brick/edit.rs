//! One edit of a layout by hand, checked at once.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

use super::faults::{Fault, faults, label};
use super::grid::{Grid, Site};
use crate::plan::Layout;

/// What the maker's hand does. Cells are counted from 0, in the order of the layout.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "does", rename_all = "snake_case", deny_unknown_fields)]
pub enum Edit {
    /// Puts a cell on another site; the cell that sits there changes places with it.
    Move {
        /// The cell.
        cell: usize,
        /// Column it goes to.
        column: u32,
        /// Row it goes to.
        row: u32,
        /// Layer it goes to.
        layer: u32,
    },
    /// Turns one cell end for end.
    TurnCell {
        /// The cell.
        cell: usize,
    },
    /// Turns every cell of a group end for end.
    TurnGroup {
        /// The group, from 0.
        group: usize,
    },
    /// Holds a cell where it is when the rest is laid out again, or lets it go.
    Lock {
        /// The cell.
        cell: usize,
        /// Whether it stays.
        locked: bool,
    },
}

/// Why an edit is not made.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum Refused {
    /// It names a cell, group or site that is not there.
    #[error("{0}")]
    Nothing(String),
    /// The site is not free: something stands in the way there.
    #[error("no cell can sit there: something is in the way, or the wall")]
    Blocked,
    /// A locked cell does not move.
    #[error("{0} is locked; unlock it first")]
    Locked(String),
    /// The edit would make a short.
    #[error(
        "short: {cells} would be turned against the others of group {group}, and the strip over them would join B{below} to B{group}. Turn the whole group instead"
    )]
    Short {
        /// Cells that stand against the others of their group.
        cells: String,
        /// The group, from 1.
        group: usize,
        /// The node below it.
        below: usize,
    },
}

/// The layout after an edit. `is_free` says whether a cell can sit on a site.
pub fn edit(
    layout: &Layout,
    grid: &Grid,
    parallel: usize,
    change: &Edit,
    is_free: impl Fn(Site) -> bool,
) -> Result<Layout, Refused> {
    let mut next = layout.clone();
    let name = |cell: usize| label(cell / parallel, cell % parallel);
    let known = |cell: usize| {
        let last = layout.cells.len().saturating_sub(1);
        if cell < layout.cells.len() {
            Ok(())
        } else {
            Err(Refused::Nothing(format!("cell {cell}: there are 0 to {last}")))
        }
    };
    match *change {
        Edit::Move { cell, column, row, layer } => {
            known(cell)?;
            let to = Site { layer, row, column };
            if !grid.has(to) {
                let [columns, rows, layers] = grid.counts;
                return Err(Refused::Nothing(format!(
                    "the lattice has no site there: it has {columns} columns, {rows} rows, {layers} layers"
                )));
            }
            if !is_free(to) {
                return Err(Refused::Blocked);
            }
            let other = layout.cells.iter().position(|s| Site::from(s) == to);
            for moved in [Some(cell), other].into_iter().flatten() {
                if layout.cells[moved].locked {
                    return Err(Refused::Locked(name(moved)));
                }
            }
            let from = Site::from(&layout.cells[cell]);
            for (moved, site) in [(Some(cell), to), (other, from)] {
                if let Some(seat) = moved.and_then(|m| next.cells.get_mut(m)) {
                    (seat.column, seat.row, seat.layer) = (site.column, site.row, site.layer);
                }
            }
        }
        Edit::TurnCell { cell } => {
            known(cell)?;
            next.cells[cell].plus_up = !next.cells[cell].plus_up;
        }
        Edit::TurnGroup { group } => {
            let seats = next.cells.chunks_mut(parallel).nth(group);
            let seats = seats.ok_or_else(|| Refused::Nothing(format!("there is no group {}", group + 1)))?;
            seats.iter_mut().for_each(|s| s.plus_up = !s.plus_up);
        }
        Edit::Lock { cell, locked } => {
            known(cell)?;
            next.cells[cell].locked = locked;
        }
    }
    let shorts = |of: &Layout| -> Vec<Fault> {
        let series = of.cells.len() / parallel;
        let all = faults(of, grid, series, parallel);
        all.into_iter().filter(|f| matches!(f, Fault::Short { .. })).collect()
    };
    let before = shorts(layout);
    match shorts(&next).into_iter().find(|f| !before.contains(f)) {
        Some(Fault::Short { group, cells }) => Err(Refused::Short { cells: cells.join(", "), group, below: group - 1 }),
        _ => Ok(next),
    }
}
