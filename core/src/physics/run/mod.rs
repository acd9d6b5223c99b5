//! What a pack will do: how long it runs, at which voltage and how warm, and how it takes its charge.
//!
//! `closed` (one resistance, in closed form, for every keystroke) stands beside the simulation: `cell` (one cell, an
//! equivalent circuit) with `typical` parameters or those `fit` to a log, `given` (one given cell through given currents),
//! `load` (what the device draws when), `warmth` (where the heat goes), `pack` (groups and cells, path and load, who
//! cuts off), `fill` (charge and balance), `old` (the original battery).

mod cell;
mod closed;
mod fill;
mod fit;
mod given;
mod joined;
mod limits;
mod load;
mod old;
mod own;
mod pack;
mod typical;
mod warmth;

pub use cell::{CellModel, CellState, Pace, Pair};
pub use closed::{Discharge, discharge};
pub use fill::{Bleeds, FillEvent, FillMoment, FillTask, FillWhat, Filled, Filler, Opens, fill};
pub use fit::{Free, Logged, Piece, error_v, fit, follow};
pub use given::{GivenCell, GivenError, GivenRow, GivenWarmth, ProfileStep, read_profile};
pub use joined::{Joined, Sharer};
pub use limits::{Limit, RunEvent, Shown, Watch, Watched, Who};
pub use load::{Asks, Level, Pattern, Stretch};
pub use old::{OldPoint, OldRun, old_run};
pub use own::{BadLog, OwnCell, OwnPoint, ToldDischarge, own_cell};
pub use pack::{Extreme, PackRun, PackTask, RunPoint, Through, Warmth, drawn_a, simulate};
pub use typical::{Typical, typical};
