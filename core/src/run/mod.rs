//! What a pack will do: how long it runs, at which volts and how warm, and how it takes its charge.
//!
//! `closed` (one resistance, in closed form, for every keystroke) stands beside the simulation: `cell` (one cell, an
//! equivalent circuit) with `typical` parameters or those `fit` to a log, `given` (one given cell through given currents),
//! `load` (what the device draws when), `warmth` (where the heat goes), `pack` (groups and cells, path and load, who
//! cuts off), `fill` (charge and balance), `old` (the original battery).

mod cell;
mod closed;
mod fit;
mod given;
mod typical;
mod warmth;

pub use cell::{CellModel, CellState, Pace, Pair, Table};
pub use closed::{Discharge, discharge};
pub use fit::{Free, Logged, Piece, error_v, fit, follow};
pub use given::{GivenCell, GivenError, GivenRow, GivenWarmth, ProfileStep, read_profile};
pub use typical::{Typical, typical};
