//! Cells in hand: their stock, their tester, and which go together.

pub mod grouping;
pub mod stock;
pub mod tester;
