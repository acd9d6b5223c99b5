//! The stock: lots, cells, readings. What depends on them is calculated again in the transaction that changes them.

mod cells;
mod inspection;
mod lots;
mod readings;
mod sheet;
mod states;

pub use cells::{CellDetail, CellFilter, CellRow, Event, KeptReading, Point, Sort, cells, detail, points, set_look};
pub use inspection::{Choosable, chosen, inspected, judge_anew, pool_for_grouping};
pub(super) use lots::insert_lot;
pub use lots::{LotRow, create_lot, delete_lot, lot, lots, restore_lot, update_lot};
pub use readings::{NewReading, add_readings, strike};
pub(super) use sheet::insert_sheet;
pub use sheet::{Imported, cells_sheet, import, readings_sheet};
pub use states::{StateChange, release_plan, set_state, sync_plan};

use brick_core::base::table::LineError;
use thiserror::Error;

/// Why a change of the stock was refused. Nothing was changed.
#[derive(Debug, Error)]
pub enum StockError {
    /// Something that is not there.
    #[error("there is no such {0}")]
    Missing(&'static str),
    /// Labels that other cells carry.
    #[error("{}", told(.0))]
    LabelsTaken(Vec<String>),
    /// A name that another lot has.
    #[error("another lot is called “{0}”")]
    NameTaken(String),
    /// Cells that cannot be put into a state.
    #[error("{0}")]
    State(String),
    /// Lines of a file.
    #[error("{} lines cannot be imported", .0.len())]
    Lines(Vec<LineError>),
    /// The database failed.
    #[error(transparent)]
    Database(#[from] sqlx::Error),
}

fn told(labels: &[String]) -> String {
    const MOST: usize = 12;
    let more = labels.len().saturating_sub(MOST);
    let named = labels.iter().take(MOST).cloned().collect::<Vec<_>>().join(", ");
    let rest = if more > 0 { format!(" and {more} more") } else { String::new() };
    format!("other cells are labelled {named}{rest}; a label stands on one cell only")
}

/// The result of a change of the stock.
pub type StockResult<T> = Result<T, StockError>;
