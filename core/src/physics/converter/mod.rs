//! Converters: duty, losses, input current, heat; and the change-over between two feeds.

mod adjuster;
mod changeover;
mod losses;
mod setup;

pub use adjuster::{Adjuster, Ends};
pub use changeover::{Comparator, comparator, hold_up_f};
pub use losses::{Losses, Point, TYPICAL_K_PER_W, TYPICAL_OWN_W, duty, work_at};
pub use setup::{SetUp, SetUpStep, set_up};
