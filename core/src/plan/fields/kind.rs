//! What a part is, as one asks for it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::plan::{Module, NodeKind, Part};

/// Kind of a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PartKind {
    /// A cell.
    Cell,
    /// A pack that is taken as a whole.
    Pack,
    /// A strip.
    Strip,
    /// A protection board.
    Board,
    /// A cut-off board.
    CutOff,
    /// An alarm on the taps.
    Alarm,
    /// A fuse.
    Fuse,
    /// A charger.
    Charger,
    /// What feeds a charger.
    Supply,
    /// A converter.
    Converter,
    /// A wire.
    Wire,
    /// A plug or a jack.
    Connector,
    /// A switch.
    Switch,
}

/// What a kind of part is called.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct PartNames {
    /// One of them.
    pub title: &'static str,
    /// Several.
    pub many: &'static str,
}

impl PartKind {
    /// All, in the order of the work.
    pub const ALL: [PartKind; 13] = [
        PartKind::Cell,
        PartKind::Pack,
        PartKind::Strip,
        PartKind::Board,
        PartKind::CutOff,
        PartKind::Alarm,
        PartKind::Fuse,
        PartKind::Charger,
        PartKind::Supply,
        PartKind::Converter,
        PartKind::Wire,
        PartKind::Connector,
        PartKind::Switch,
    ];
    /// What it is called.
    pub fn names(self) -> PartNames {
        let (title, many) = match self {
            PartKind::Cell => ("cell", "Cells"),
            PartKind::Pack => ("ready pack", "Ready packs"),
            PartKind::Strip => ("strip", "Strips"),
            PartKind::Board => ("board", "Boards"),
            PartKind::CutOff => ("cut-off board", "Cut-off boards"),
            PartKind::Alarm => ("alarm", "Alarms"),
            PartKind::Fuse => ("fuse", "Fuses"),
            PartKind::Charger => ("charger", "Chargers"),
            PartKind::Supply => ("supply", "Supplies"),
            PartKind::Converter => ("converter", "Converters"),
            PartKind::Wire => ("wire", "Wires"),
            PartKind::Connector => ("plug or jack", "Plugs and jacks"),
            PartKind::Switch => ("switch", "Switches"),
        };
        PartNames { title, many }
    }

    /// The word by which a document holds it.
    pub fn held_as(self) -> &'static str {
        match self {
            PartKind::Cell => "cell",
            PartKind::Pack => "pack",
            PartKind::Strip => "strip",
            PartKind::Wire => "wire",
            PartKind::Fuse => "fuse",
            PartKind::Connector => "connector",
            PartKind::Switch => "switch",
            _ => "module",
        }
    }

    /// The key of a module under which it does what makes it of this kind; `None` for what is no module.
    pub fn does(self) -> Option<&'static str> {
        match self {
            PartKind::Board => Some("protects"),
            PartKind::Charger => Some("charges"),
            PartKind::Converter => Some("converts"),
            PartKind::CutOff => Some("cuts_off"),
            PartKind::Alarm => Some("alarms"),
            PartKind::Supply => Some("supplies"),
            _ => None,
        }
    }

    /// Whether a module does what makes it of this kind.
    pub fn is_done_by(self, module: &Module) -> bool {
        match self {
            PartKind::Board => module.protects.is_some(),
            PartKind::Charger => module.charges.is_some(),
            PartKind::Converter => module.converts.is_some(),
            PartKind::CutOff => module.cuts_off.is_some(),
            PartKind::Alarm => module.alarms.is_some(),
            PartKind::Supply => module.supplies.is_some(),
            _ => false,
        }
    }

    /// The kind that stands at a node.
    pub fn at(node: NodeKind) -> Option<PartKind> {
        match node {
            NodeKind::Board => Some(PartKind::Board),
            NodeKind::CutOff => Some(PartKind::CutOff),
            NodeKind::Alarm => Some(PartKind::Alarm),
            NodeKind::Fuse => Some(PartKind::Fuse),
            NodeKind::Charger => Some(PartKind::Charger),
            NodeKind::Supply => Some(PartKind::Supply),
            NodeKind::Converter => Some(PartKind::Converter),
            NodeKind::Connector | NodeKind::Jack => Some(PartKind::Connector),
            NodeKind::Switch => Some(PartKind::Switch),
            NodeKind::Pack | NodeKind::Device => None,
        }
    }

    /// Whether a part may stand where one of this kind belongs: any module where a module does.
    pub fn may_be(self, part: &Part) -> bool {
        match part {
            Part::Module { .. } => self.does().is_some(),
            Part::Fuse { .. } => self == PartKind::Fuse,
            Part::Connector { .. } => self == PartKind::Connector,
            Part::Switch { .. } => self == PartKind::Switch,
        }
    }
}
