//! The brick as a network of resistances: which current flows in which strip and cell, and how warm that makes them.
//!
//! `circuit` (what flows where) <- `sharing` (a laid brick as a circuit: strips from weld to weld, wires between pieces)
//! -> `study` (the ways to take the current off), `heat` (conduction between cells and to the wall).

mod circuit;
mod heat;
mod sharing;
mod study;

pub use circuit::{Circuit, Flow, Resistor, Solver, Terminal};
pub use heat::{HeatPaths, Warming, block_paths, cell_heat_j_per_k};
pub use sharing::{JointWire, Segment, Sharing};
pub use study::{Study, study};
