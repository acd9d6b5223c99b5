//! Ground that every room stands on: quantities and their ranges, text with figures in it, tables, sources, limits, the
//! chemistries' facts, and the small mathematics that several rooms share. Uses nothing of the other rooms.

pub mod chemistry;
pub mod conductance;
pub mod e_series;
pub mod limit;
pub mod phrase;
pub mod piecewise;
pub mod progress;
pub mod quantity;
pub mod range;
pub mod robust;
pub mod severity;
pub mod source;
pub(crate) mod svg_text;
pub mod table;
pub mod typed;
