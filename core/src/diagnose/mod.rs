//! Why does it read that: which fault explains the readings, how sure that is, and where to hold the probes next.
//!
//! `faults` lists what can be wrong with a plan, each a change of the circuit that draws its diagram; `points` names where a
//! meter goes; `network` says what it would read there for every fault; `judge` weighs the readings with the meter's error;
//! `next` chooses the reading that tells most for least trouble; `told` says it in words.

mod faults;
mod judge;
mod network;
mod next;
mod points;
mod readings;
mod report;
mod symptoms;
mod told;

pub use faults::{CircuitFault, FaultKind};
pub use points::{At, Taken};
pub use readings::read_taken;
pub use report::{Cause, Diagnosis, NextReading, diagnose};
pub use symptoms::Symptom;
