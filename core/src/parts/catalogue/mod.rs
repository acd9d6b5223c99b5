//! The parts catalogue: parts one may choose from, each a copy into the plan.

mod columns;
mod sheet;
mod typical;

pub use columns::{Column, columns};
pub use sheet::{PARTS_MAX, id_of, read_parts, write_parts};
pub use typical::typical;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::range::AT_HAND;
use crate::plan::faults;
use crate::plan::{Cell, Connector, FieldError, Fuse, Module, Offer, ReadyPack, Strip, Switch, Wire};

/// A part of the catalogue.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum ItemPart {
    /// A cell.
    Cell {
        /// Its figures.
        cell: Cell,
    },
    /// A pack that is taken as a whole.
    Pack {
        /// Its figures.
        pack: ReadyPack,
    },
    /// A strip.
    Strip {
        /// Its figures.
        strip: Strip,
    },
    /// A board, charger, converter, cut-off, alarm or supply.
    Module {
        /// Its figures.
        module: Box<Module>,
    },
    /// A fuse.
    Fuse {
        /// Its figures.
        fuse: Fuse,
    },
    /// A connector or jack.
    Connector {
        /// Its figures.
        connector: Connector,
    },
    /// A switch.
    Switch {
        /// Its figures.
        switch: Switch,
    },
    /// A wire.
    Wire {
        /// Its figures.
        wire: Wire,
    },
}

/// Kind of a part of the catalogue.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ItemKind {
    /// A cell.
    Cell,
    /// A pack that is taken as a whole.
    Pack,
    /// A strip.
    Strip,
    /// An electronic part.
    Module,
    /// A fuse.
    Fuse,
    /// A connector or jack.
    Connector,
    /// A switch.
    Switch,
    /// A wire.
    Wire,
}

/// One entry of the catalogue.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Item {
    /// Stable id.
    pub id: String,
    /// The part.
    pub part: ItemPart,
    /// Pieces at hand (metres of wire and strip).
    #[serde(default)]
    pub at_hand: Option<u32>,
    /// Where it is sold, who said so: free words.
    #[serde(default)]
    pub note: String,
}

impl Item {
    /// Kind of the part.
    pub fn kind(&self) -> ItemKind {
        match &self.part {
            ItemPart::Cell { .. } => ItemKind::Cell,
            ItemPart::Pack { .. } => ItemKind::Pack,
            ItemPart::Strip { .. } => ItemKind::Strip,
            ItemPart::Module { .. } => ItemKind::Module,
            ItemPart::Fuse { .. } => ItemKind::Fuse,
            ItemPart::Connector { .. } => ItemKind::Connector,
            ItemPart::Switch { .. } => ItemKind::Switch,
            ItemPart::Wire { .. } => ItemKind::Wire,
        }
    }

    /// Name, price and arrival.
    pub fn offer(&self) -> &Offer {
        match &self.part {
            ItemPart::Cell { cell } => &cell.offer,
            ItemPart::Pack { pack } => &pack.offer,
            ItemPart::Strip { strip } => &strip.offer,
            ItemPart::Module { module } => &module.offer,
            ItemPart::Fuse { fuse } => &fuse.offer,
            ItemPart::Connector { connector } => &connector.offer,
            ItemPart::Switch { switch } => &switch.offer,
            ItemPart::Wire { wire } => &wire.offer,
        }
    }

    /// Name, price and arrival, to be changed.
    pub fn offer_mut(&mut self) -> &mut Offer {
        match &mut self.part {
            ItemPart::Cell { cell } => &mut cell.offer,
            ItemPart::Pack { pack } => &mut pack.offer,
            ItemPart::Strip { strip } => &mut strip.offer,
            ItemPart::Module { module } => &mut module.offer,
            ItemPart::Fuse { fuse } => &mut fuse.offer,
            ItemPart::Connector { connector } => &mut connector.offer,
            ItemPart::Switch { switch } => &mut switch.offer,
            ItemPart::Wire { wire } => &mut wire.offer,
        }
    }
}

/// Longest note on a part.
const NOTE_MAX: usize = 2000;

impl Item {
    /// Checks the values of a part as they are checked inside a plan.
    pub fn check(&self, at: &str) -> Vec<FieldError> {
        let mut errors = match &self.part {
            ItemPart::Cell { cell } => faults(at, cell),
            ItemPart::Pack { pack } => faults(at, pack),
            ItemPart::Strip { strip } => faults(at, strip),
            ItemPart::Module { module } => faults(at, module.as_ref()),
            ItemPart::Fuse { fuse } => faults(at, fuse),
            ItemPart::Connector { connector } => faults(at, connector),
            ItemPart::Switch { switch } => faults(at, switch),
            ItemPart::Wire { wire } => faults(at, wire),
        };
        let mut refuse = |field: &str, message: String| {
            errors.push(FieldError { field: format!("{at}/{field}"), message });
        };
        let plain = |b: u8| b.is_ascii_alphanumeric() || b == b'-' || b == b'.';
        if !(1..=60).contains(&self.id.len()) || !self.id.bytes().all(plain) {
            refuse("id", "an id is 1 to 60 letters, digits, hyphens and points".to_owned());
        }
        if let Some(error) = self.at_hand.and_then(|n| AT_HAND.check(f64::from(n)).err()) {
            refuse("at_hand", error.to_string());
        }
        if self.note.chars().count() > NOTE_MAX {
            refuse("note", format!("at most {NOTE_MAX} characters"));
        }
        errors
    }
}

/// All parts one may choose from.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Catalogue {
    /// The parts.
    pub items: Vec<Item>,
}

/// Why a catalogue could not be read.
#[derive(Debug, thiserror::Error)]
pub enum CatalogueError {
    /// Not JSON, or not in the shape of a catalogue.
    #[error("not a catalogue: {0}")]
    Shape(#[from] serde_json::Error),
    /// Parts whose values are out of range.
    #[error("{}", .0.iter().map(ToString::to_string).collect::<Vec<_>>().join("; "))]
    Fields(Vec<FieldError>),
}

impl Catalogue {
    /// The catalogue with every typical part behind its own; an own part of the same id stays.
    #[must_use]
    pub fn with_typical(mut self) -> Catalogue {
        let own: std::collections::HashSet<String> = self.items.iter().map(|item| item.id.clone()).collect();
        self.items.extend(typical().items.into_iter().filter(|item| !own.contains(&item.id)));
        self
    }

    /// Reads a catalogue from JSON, checks every part, and notes each part's id in its copy.
    pub fn from_json(text: &str) -> Result<Catalogue, CatalogueError> {
        let mut catalogue: Catalogue = serde_json::from_str(text)?;
        let mut errors = vec![];
        for item in &mut catalogue.items {
            let id = item.id.clone();
            item.offer_mut().catalogue_id = Some(id.clone());
            errors.extend(item.check(&format!("/items/{id}")));
        }
        if errors.is_empty() { Ok(catalogue) } else { Err(CatalogueError::Fields(errors)) }
    }
}
