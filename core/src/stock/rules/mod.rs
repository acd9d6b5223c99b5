//! What is noticed on a bench: by cell, by pair, by lot.

pub mod cell;
pub mod lot;
pub mod pair;
