//! The bench: how to measure what must be known.

mod recharge;
mod ways;

pub use recharge::{MeanDraw, PutBack, Recharge, mean_draw};
pub use ways::{Way, ways};
