//! The diagram as it is drawn: wires, dots, strokes and words, in millimetres.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::quantity::{Unit, show};

/// How a stroke is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StrokeRole {
    /// A thin line.
    Line,
    /// A thick line.
    Heavy,
    /// A dashed line.
    Dashed,
    /// An outline filled like paper.
    Body,
    /// Filled.
    Fill,
}

/// A stroke of a symbol.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Stroke {
    /// How it is drawn.
    pub role: StrokeRole,
    /// SVG path data, in millimetres.
    pub d: String,
}

/// What words are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum WordsRole {
    /// Name of a block.
    Title,
    /// Which one.
    Detail,
    /// Voltage of a node against pack minus.
    Volts,
    /// Name of a pin.
    Pin,
}

/// Words on the page.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Words {
    /// What they are.
    pub role: WordsRole,
    /// The words; before the voltage, where they have some.
    pub text: String,
    /// Voltage that they end with.
    pub reads_v: Option<f64>,
    /// Where they stand, by `anchor`.
    pub x_mm: f64,
    /// Their base line.
    pub y_mm: f64,
    /// SVG's text-anchor.
    pub anchor: &'static str,
    /// The node they speak of.
    pub node: Option<usize>,
}

impl Words {
    /// All of them.
    pub fn whole(&self) -> String {
        let volts = self.reads_v.map(|v| show(v, Unit::V));
        [Some(self.text.clone()).filter(|t| !t.is_empty()), volts].into_iter().flatten().collect::<Vec<_>>().join("  ")
    }
}

/// A wire of one node.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DrawnWire {
    /// Its node.
    pub node: usize,
    /// Its corners.
    pub corners_mm: Vec<[f64; 2]>,
    /// Whether the pack's current flows in it.
    pub carries: bool,
}

/// Where wires of one node meet.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Dot {
    /// Its node.
    pub node: usize,
    /// From the left.
    pub x_mm: f64,
    /// From above.
    pub y_mm: f64,
}

/// A symbol.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DrawnBlock {
    /// Id of its node or run in the plan; a word for what the graph has none of.
    pub id: String,
    /// Whether its part is still to be chosen.
    pub undecided: bool,
    /// Its strokes.
    pub strokes: Vec<Stroke>,
    /// The box in which it is touched: from the left, from above, width, height.
    pub reach_mm: [f64; 4],
}

/// The diagram in millimetres.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Schematic {
    /// Its left edge.
    pub left_mm: f64,
    /// Its upper edge.
    pub top_mm: f64,
    /// Its width.
    pub width_mm: f64,
    /// Its height.
    pub height_mm: f64,
    /// Wires, below everything.
    pub wires: Vec<DrawnWire>,
    /// Where they meet.
    pub dots: Vec<Dot>,
    /// Symbols.
    pub blocks: Vec<DrawnBlock>,
    /// Words, above everything.
    pub words: Vec<Words>,
}
