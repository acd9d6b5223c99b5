//! From the parts list to a working device: the steps of the work in their order, what to read at each, and how a build stands.
//!
//! `sheet` makes the steps of a plan, each with what must hold before it and the band in which every reading is predicted;
//! `event` is what was done, read and written down; `progress` lays the events on the sheet and says which gates are shut;
//! `again` says which steps a later change of the plan undoes. One file a phase makes its steps.

mod again;
mod apart;
mod arrival;
mod board;
mod brick;
mod cells;
mod charge_line;
mod charge_log;
mod charge_watch;
pub mod event;
mod first_charge;
mod first_power;
mod hand_over;
mod leads;
mod limited_supply;
mod making;
mod predict;
mod progress;
mod sheet;
mod step;

pub use again::{Again, again};
pub use charge_line::ChargeLine;
pub use charge_log::{ChargeLimits, EndedBy, ended_by, stop_at_once};
pub use charge_watch::{ChargeMoment, ChargeWatch, charge_watch};
pub use event::{BuildEvent, What};
pub use progress::{AskState, Found, Progress, Refusal, Stands, StepState, admit, progress};
pub use sheet::sheet;
pub use step::{Between, BuildAsk, BuildSheet, BuildStep, Counts, Earlier, Expects, Phase, Together, Undecided, Wait};
