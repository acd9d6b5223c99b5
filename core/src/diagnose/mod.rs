//! Why does it read that: which fault explains the readings, how sure that is, and where to hold the probes next.
//!
//! `faults` lists what can be wrong with a plan, each a change of the circuit that draws its diagram; `points` names where a
//! meter goes; `network` says what it would read there for every fault; `judge` weighs the readings with the meter's error.
//! `stories` says what may lie behind a circuit that reads alike, `symptoms` and `questions` tell those apart; `next` chooses the
//! reading and the question that tell most for least trouble; `told` says it in words, `place` where in the diagram it is.

mod asked;
mod faults;
mod judge;
mod kind;
mod network;
mod next;
mod place;
mod points;
mod questions;
mod readings;
mod report;
mod stories;
mod symptoms;
mod told;

pub use asked::odd_questions;
pub use kind::FaultKind;
pub use place::FaultPlace;
pub use points::{At, PointName, Taken};
pub use questions::{Answered, OddAnswer, OddQuestion, UNKNOWN};
pub use readings::read_taken;
pub use report::{Cause, CauseLine, Diagnosis, Evidence, FaultReason, NextReading, diagnose};
pub use symptoms::{Symptom, SymptomSheet, Trouble};
