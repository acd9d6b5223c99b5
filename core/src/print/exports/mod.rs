//! Files for other programs and machines, in open formats: the network for a circuit simulator, tables of strips and
//! welds, outlines to cut, a cell holder to print, the course of a run.

mod course;
mod holder;
mod netlist;
mod outlines;
mod tables;

pub use course::run_csv;
pub use holder::{HolderError, HolderMesh, holder};
pub use netlist::netlist;
pub use outlines::{FaceOutlines, StripOutline, outlines};
pub use tables::{strips_csv, welds_csv};
