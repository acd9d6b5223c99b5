//! The rules of converting a device to a multi-cell lithium pack.
//!
//! Pure: no I/O, no clock, no randomness, no async. The rooms follow the order of the work and know only the
//! rooms before them; `assess` is the one place that knows them all:
//!
//! `plan` (the document) -> `chemistry` -> `device` -> `meters` -> `voltage` -> `cells` -> `brick` -> `protection` ->
//! `charging` -> `balancing` -> `wiring` -> `run` -> `bench` (how to measure) -> `arrival` (tests of parts before they are built in) -> `assess` (figures, findings, path, stages) -> `suggest` (rank parts), `bill` (what must be bought), `later` (foreseeable misuse), `listing` (a seller's text read) -> `fix`
//! (the smallest changes that clear a finding), `prove` (the device on a bench supply). `exports` (files for other programs), `conductance` solves meshes for `brick`, `lines` are values in straight lines.
//!
//! Words, one each: OCV, SOC, DCIR, C-rate, CC/CV, trip, bleed current, cell, group (cells in parallel),
//! pack (groups in series, written 4S2P). Discharge current is positive. Names carry their unit: `_v _a _ohm
//! _ah _wh _w _s _c _mm _mm2 _g`; shares and efficiencies are 0..1 and carry none.

pub mod arrival;
pub mod assess;
pub mod balancing;
pub mod bench;
pub mod bill;
pub mod brick;
pub mod cells;
pub mod charging;
pub mod chemistry;
pub mod conductance;
pub mod converter;
pub mod device;
pub mod diagram;
pub mod exports;
pub mod fix;
pub mod gauge;
pub mod grouping;
pub mod later;
pub mod limit;
pub mod lines;
pub mod listing;
pub mod meters;
pub mod phrase;
pub mod plan;
pub mod preferred;
pub mod progress;
pub mod protection;
pub mod prove;
pub mod quantity;
pub mod range;
pub mod run;
pub mod sheets;
pub mod source;
pub mod stock;
pub mod suggest;
mod svg_text;
pub mod table;
pub mod voltage;
pub mod wiring;

pub use assess::{Assessment, assess};
pub use fix::{all_fixes, fixes};
pub use plan::Plan;
pub use suggest::{Catalogue, suggest};
