//! Plans as they are saved, and what core says of one.

pub mod assess;
pub mod list;
pub mod photos;
pub mod propose;
pub mod questions;
pub mod saved;
