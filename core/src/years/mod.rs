//! Packs and their years: what a pack is, what happened to it, what that tells, what is due. Uses `base`, `plan`, `physics` and
//! `assess`; nothing in core uses it.

mod card;
mod due;
mod entry;
mod forecast;
mod habit;
mod hand_on;
mod label;
mod lines;
mod measured;
mod runs;
mod spread;
mod story;
mod table;
mod time;

pub use card::{ExpectedRun, PackCard, PackCell};
pub use due::{Due, DueAction};
pub use entry::{ChargeEnd, Logged, Mishap, OhmBy, PackEntry, PackState, placed, state};
pub use forecast::{Course, Forecast, ForecastPoint, UsedOtherwise, WornBy};
pub use habit::Habit;
pub use hand_on::{HandOnPart, hand_on, label_lines, retired};
pub use label::{SAYS_MAX, label};
pub use lines::LogLine;
pub use measured::{CapacityPoint, MeasuredStory, OhmPoint};
pub use runs::RunAgainst;
pub use spread::{SpreadPoint, SpreadStory};
pub use story::{PackStory, story, without_forecast};
pub use table::{read_log, write_log};
