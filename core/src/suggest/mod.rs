//! Suggestions: which voltage, which part. Each is tried in the plan and judged by the same `assess`.

mod catalogue;
mod columns;
pub mod layouts;
mod merits;
mod options;
mod parts;
mod sheet;
pub mod strips;

pub use catalogue::{Catalogue, CatalogueError, Item, ItemKind, ItemPart};
pub use columns::{Column, columns};
pub use options::{VoltageOption, VoltageOptions, options};
pub use parts::{Suggestion, place_pointer, suggest};
pub use sheet::{PARTS_MAX, id_of, read_parts, write_parts};
