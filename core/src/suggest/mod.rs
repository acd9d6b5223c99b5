//! Suggestions: which voltage, which part. Each is tried in the plan and judged by the same `assess`.

mod catalogue;
pub mod layouts;
mod options;
mod parts;
pub mod strips;

pub use catalogue::{Catalogue, CatalogueError, Item, ItemKind, ItemPart};
pub use options::{VoltageOption, VoltageOptions, options};
pub use parts::{Suggestion, place_pointer, suggest};
