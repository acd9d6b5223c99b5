//! The stock: lots of cells, what was read on each, and what to think of it.

mod candidates;
mod faults;
mod inspect;
mod judgement;
mod labels;
mod lot;
mod reading;
mod report;
mod rules;
mod sheet;
mod state;

pub use candidates::{Offered, candidates};
pub use faults::{Fault, FaultText};
pub use inspect::inspect;
pub use judgement::{CellVerdict, Judgement, PutIn};
pub use labels::label_range;
pub use lot::Lot;
pub use reading::{Conditions, Digest, Drop, Kind, Measured, Method, TestReading, digest, unlike};
pub use report::{CellReport, Inspected, LotReport, Typical};
pub use sheet::{Defaults, SheetCell, Written, read_sheet, write_cells, write_readings};
pub use state::CellState;

/// Most cells in one lot, and most lines that an import takes.
pub const CELLS_MAX: usize = 5000;
/// Longest label.
pub const LABEL_MAX: usize = 40;
