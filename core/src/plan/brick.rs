//! The brick: where each cell of a pack sits in its compartment, and the room that everything round the cells takes.
//!
//! Axes are those of the compartment: x along its length, y along its width, z along its depth. In a tube x runs along it.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A direction of the compartment.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Axis {
    /// Along its length.
    X,
    /// Along its width.
    Y,
    /// Along its depth.
    Z,
}

impl Axis {
    /// All three, in order.
    pub const ALL: [Axis; 3] = [Axis::X, Axis::Y, Axis::Z];

    /// Its place in a triple of lengths.
    pub fn index(self) -> usize {
        self as usize
    }
}

/// A wall of the compartment.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Wall {
    /// Where the length begins.
    XLow,
    /// Where the length ends.
    XHigh,
    /// Where the width begins.
    YLow,
    /// Where the width ends.
    YHigh,
    /// The floor.
    ZLow,
    /// The lid.
    ZHigh,
}

impl Wall {
    /// All six.
    pub const ALL: [Wall; 6] = [Wall::XLow, Wall::XHigh, Wall::YLow, Wall::YHigh, Wall::ZLow, Wall::ZHigh];

    /// The direction it stands across.
    pub fn axis(self) -> Axis {
        match self {
            Wall::XLow | Wall::XHigh => Axis::X,
            Wall::YLow | Wall::YHigh => Axis::Y,
            Wall::ZLow | Wall::ZHigh => Axis::Z,
        }
    }

    /// Whether it stands at the far end of its direction.
    pub fn is_high(self) -> bool {
        matches!(self, Wall::XHigh | Wall::YHigh | Wall::ZHigh)
    }
}

/// How the rows of cells lie on one another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Lattice {
    /// Straight rows and columns.
    Square,
    /// Every other row shifted by half a pitch, all rows equally long.
    Staggered,
    /// Every other row shifted by half a pitch and one cell shorter.
    StaggeredShort,
}

/// An edge of the top face as it is drawn: columns run from left to right, rows downward.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Edge {
    /// First column.
    Left,
    /// Last column.
    Right,
    /// First row.
    Upper,
    /// Last row.
    Lower,
}

/// The brick of a pack: its room, and where each cell sits once that is chosen.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Brick {
    /// The compartment it goes into; absent is the first.
    pub compartment: Option<String>,
    /// Room for what is round the cells.
    pub clearances: Clearances,
    /// Edge at which pack minus should come out.
    pub minus_at: Option<Edge>,
    /// Edge at which pack plus should come out.
    pub plus_at: Option<Edge>,
    /// Which cells of the end groups the wires of the pack sit on; absent is nearest to those edges.
    pub take_off: Option<TakeOff>,
    /// How the cells are joined; absent is not decided.
    pub joined_by: Option<Joining>,
    /// The cell holder that is printed for it.
    pub holder: Holder,
    /// Where each cell sits.
    pub layout: Option<Layout>,
}

/// Where the wires of the pack sit on the cells of its end groups.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum TakeOff {
    /// Both on the outermost cell of one side.
    SameEnd,
    /// On outermost cells of opposite sides.
    Diagonal,
    /// On the middle cells.
    Middle,
    /// On every cell, by a bar or by wires of equal length.
    EveryCell,
}

impl TakeOff {
    /// All four.
    pub const ALL: [TakeOff; 4] = [TakeOff::SameEnd, TakeOff::Diagonal, TakeOff::Middle, TakeOff::EveryCell];
}

/// How cells are joined.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Joining {
    /// Strips welded to the ends.
    Welded,
    /// Wire or strip soldered to tabs that were welded on before.
    SolderedToTabs,
    /// Soldered to the bare ends of the cells.
    SolderedToCells,
    /// Spring contacts of a holder.
    Springs,
    /// Tabs or studs clamped by screws.
    Clamped,
}

/// A cell holder as it is printed: two of them, one on each end of the cells, the same turned over.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Holder {
    /// Added to the diameter of a cell, so that it goes in.
    pub clearance_mm: f64,
    /// Wall round the outermost cells.
    pub wall_mm: f64,
    /// How far the lip reaches over the end of a cell, so that it does not fall through.
    pub lip_mm: f64,
    /// Thickness of the lip.
    pub floor_mm: f64,
    /// Height, lip included.
    pub height_mm: f64,
}

impl Default for Holder {
    /// What prints with a 0.4 mm nozzle. Common practice, no source.
    fn default() -> Self {
        Holder { clearance_mm: 0.2, wall_mm: 2.0, lip_mm: 2.0, floor_mm: 1.0, height_mm: 8.0 }
    }
}

/// Room for what is round the cells.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Clearances {
    /// Between neighbouring cells: the wall of a holder, or a sheet.
    pub gap_mm: f64,
    /// On each face that has strips: rings, strips and a sheet over them.
    pub ends_mm: f64,
    /// Sheet between two layers, beside their strips.
    pub between_layers_mm: f64,
    /// Wrap round the brick, on every side.
    pub wrap_mm: f64,
    /// Foam round the wrap, on every side.
    pub padding_mm: f64,
    /// Rigid shell, on every side.
    pub shell_mm: f64,
    /// Channel for wires along one side.
    pub wires_mm: f64,
    /// How much thicker a flat cell may become, as a share of its thickness.
    pub swelling_share: f64,
    /// The board, if it goes in beside the cells.
    pub board: Option<BoardSpace>,
    /// Whether the board sits somewhere else.
    pub board_elsewhere: bool,
}

impl Default for Clearances {
    /// Cells with a sheet between them, one wrap, thin foam. Common practice, no source.
    fn default() -> Self {
        Clearances {
            gap_mm: 0.5,
            ends_mm: 1.0,
            between_layers_mm: 0.5,
            wrap_mm: 0.5,
            padding_mm: 1.0,
            shell_mm: 0.0,
            wires_mm: 3.0,
            swelling_share: 0.08,
            board: None,
            board_elsewhere: false,
        }
    }
}

/// Room for a board with its parts, lying flat on a side of the brick.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BoardSpace {
    /// Longer side.
    pub length_mm: f64,
    /// Shorter side.
    pub width_mm: f64,
    /// With its parts and a sheet under it.
    pub thickness_mm: f64,
}

/// Where each cell sits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Layout {
    /// How the rows lie.
    pub lattice: Lattice,
    /// Direction of the cells: from one end to the other; of flat cells, from bottom to terminals.
    pub axis: Axis,
    /// Direction in which columns are counted; flat cells are stacked along it.
    pub columns_along: Axis,
    /// Cells in a row.
    pub columns: u32,
    /// Rows in a layer.
    pub rows: u32,
    /// Layers on one another.
    pub layers: u32,
    /// Low corner of the lattice in the compartment, along x, y and z.
    pub at_mm: [f64; 3],
    /// Side of the brick on which the board lies.
    pub board_on: Option<Wall>,
    /// Side of the brick along which the wires run.
    pub wires_on: Wall,
    /// The cells, group by group from pack minus, in the order of the pack's chosen cells.
    pub cells: Vec<Seat>,
}

/// The seat of one cell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Seat {
    /// Column, from 0.
    pub column: u32,
    /// Row, from 0.
    pub row: u32,
    /// Layer, from 0.
    pub layer: u32,
    /// Whether plus shows at the top face; of flat cells, whether plus is the tab toward the first row.
    pub plus_up: bool,
    /// Whether it stays where it is when the rest is laid out again.
    #[serde(default)]
    pub locked: bool,
}
