//! The rules of converting a device to a multi-cell lithium pack.
//!
//! Pure: no I/O, no clock, no randomness, no async. The tree shows the way of the data; a room uses those before it only, which
//! a test holds:
//!
//! `base` (quantities, sources, chemistries) -> `plan` (the document) -> `physics` (every computation) -> `parts` (catalogue,
//! sellers' texts), `stock` (the cells in the box) and `assess` (figures, findings, path, stages) -> `advise` (parts, fixes,
//! parts list) -> `print` (diagram, sheets, files) -> `diagnose` (why it reads that) -> `build` (steps, readings, gates), `years` (packs in use).
//!
//! Words, one each: OCV, SOC, DCIR, C-rate, CC/CV, trip, bleed current, cell, group (cells in parallel),
//! pack (groups in series, written 4S2P). Discharge current is positive. Names carry their unit: `_v _a _ohm
//! _ah _wh _w _s _c _mm _mm2 _g`; shares and efficiencies are 0..1 and carry none.

pub mod advise;
pub mod assess;
pub mod base;
pub mod build;
pub mod diagnose;
pub mod parts;
pub mod physics;
pub mod plan;
pub mod print;
pub mod stock;
pub mod years;

pub use advise::fix::{all_fixes, fixes};
pub use advise::suggest::suggest;
pub use assess::{Assessment, assess};
pub use parts::catalogue::Catalogue;
pub use plan::Plan;
