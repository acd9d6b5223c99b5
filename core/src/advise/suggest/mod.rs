//! Suggestions: which voltage, which part. Each is tried in the plan and judged by the same `assess`.

pub mod layouts;
mod merits;
mod options;
mod parts;
pub mod strips;

pub use options::{VoltageOption, VoltageOptions, options};
pub use parts::{SECOND_GUARD, SECOND_PACK, SELECTOR, Suggestion, place_pointer, suggest};
