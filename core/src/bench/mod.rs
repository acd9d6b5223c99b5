//! The bench: how to measure what must be known.

mod ways;

pub use ways::{Way, ways};
