//! The pack: its cells, counts and strips.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::fields::{
    CELL_ORIGINS, CELL_SHAPES, CHEMISTRIES, Field, PartKind, STRIP_METALS, cell_size, choice, flag, known, part_fields,
    quantity,
};
use super::{Brick, Choice, Known, Offer, ReadyPack};
use crate::base::chemistry::Chemistry;
use crate::base::range;

/// One pack of S groups in series, P cells in each.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Pack {
    /// Short and stable; the pack's node has the same id.
    pub id: String,
    /// Chemistry, once the voltage is chosen.
    pub chemistry: Option<Chemistry>,
    /// Groups in series.
    pub series: Option<u32>,
    /// Cells in parallel.
    pub parallel: Option<u32>,
    /// The pack itself, where it is taken as a whole: it then decides chemistry and counts, and has no cell of its own here.
    #[serde(default)]
    pub ready: Choice<ReadyPack>,
    /// One group of that, as a cell.
    #[serde(skip)]
    pub(super) group: Option<Box<Cell>>,
    /// The cell.
    pub cell: Choice<Cell>,
    /// The strip of one series link.
    pub strip: Choice<Strip>,
    /// The cells themselves, group by group from pack minus, once they are chosen; empty until then.
    #[serde(default)]
    pub groups: Vec<CellGroup>,
    /// How they lie in the compartment.
    #[serde(default)]
    pub brick: Brick,
    /// Voltage of each group at rest, read over its two taps, from pack minus; empty until they are read.
    #[serde(default)]
    pub group_v: Vec<Known>,
    /// What a logged discharge of one of the cells was fitted to.
    #[serde(default)]
    pub fitted: Option<FittedCell>,
}

impl Pack {
    /// The cell that computations go by: the one that was chosen, or a group of a pack that is taken as a whole.
    pub fn cell(&self) -> Option<&Cell> {
        self.group.as_deref().or(self.cell.part())
    }

    /// Leaves it open again which pack is taken as a whole.
    pub fn leave_ready(&mut self) {
        (self.ready, self.group) = (Choice::Undecided, None);
    }

    /// Leaves everything open that is said of its cells: another pack takes its place.
    pub(super) fn leave_cells(&mut self) {
        (self.cell, self.group, self.fitted) = (Choice::Undecided, None, None);
        self.groups.clear();
        self.group_v.clear();
        self.brick.layout = None;
    }

    /// The strip; a pack that is taken as a whole has its own inside.
    pub fn strip(&self) -> Option<&Strip> {
        self.strip.part().filter(|_| self.ready.part().is_none())
    }

    /// Pointer below the pack to a figure of its cell.
    pub fn cell_at(&self, field: &str) -> String {
        match self.ready.part() {
            Some(ready) => format!("ready/part/{}", ready.typed_at(field)),
            None => format!("cell/part/{field}"),
        }
    }
}

/// A cell as its logged discharge says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FittedCell {
    /// Name of the cell that was logged: it says nothing of another.
    pub of: String,
    /// Charge from full to empty.
    pub capacity_ah: f64,
    /// DC resistance at 25 C.
    pub dcir_ohm: f64,
    /// Lag of diffusion: how many seconds of the current the surface of its electrodes runs ahead.
    pub diffusion_s: f64,
    /// Voltage that the fit misses, root mean square.
    pub error_v: f64,
    /// Its open-circuit curve, from empty to full; that of its chemistry where there is none.
    #[serde(default)]
    pub curve: Vec<CurvePoint>,
}

/// A point of an open-circuit curve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CurvePoint {
    /// State of charge, 0 to 1.
    pub soc: f64,
    /// Voltage at rest.
    pub ocv_v: f64,
}

/// The cells of one group.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CellGroup {
    /// Its cells.
    pub cells: Vec<ChosenCell>,
}

/// A cell of the stock as it was read when it was chosen. The full record stays with the stock.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChosenCell {
    /// Id in the stock, while this plan uses it there; absent in a copy of the plan.
    #[serde(default)]
    pub stock_id: Option<String>,
    /// Label written on it.
    pub label: String,
    /// Lot it came from.
    #[serde(default)]
    pub lot: Option<String>,
    /// Measured capacity.
    #[serde(default)]
    pub capacity_ah: Option<f64>,
    /// Measured resistance.
    #[serde(default)]
    pub resistance_ohm: Option<f64>,
    /// Voltage it rested at.
    #[serde(default)]
    pub rested_v: Option<f64>,
}

/// Outer size of a cell.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "shape", rename_all = "snake_case", deny_unknown_fields)]
pub enum CellSize {
    /// A can with a terminal on each end.
    Cylindrical {
        /// Diameter.
        diameter_mm: f64,
        /// Length.
        length_mm: f64,
    },
    /// A soft pouch with both tabs on one side.
    Pouch {
        /// Thickness when new.
        thickness_mm: f64,
        /// Width.
        width_mm: f64,
        /// Length without tabs.
        length_mm: f64,
    },
    /// A hard case with both terminals on one face.
    Prismatic {
        /// Thickness.
        thickness_mm: f64,
        /// Width.
        width_mm: f64,
        /// Height.
        length_mm: f64,
    },
}

impl CellSize {
    /// Its figures: typed and checked together, written in columns of their own.
    pub const FIELDS: &'static [Field] = &[
        choice("Shape", CELL_SHAPES).inner().or("cylindrical").placed("/size/shape", &[PartKind::Cell], "shape"),
        Self::side("Cell diameter", "/size/diameter_mm", "diameter_mm"),
        Self::side("Cell thickness", "/size/thickness_mm", "cell_thickness_mm"),
        Self::side("Cell width", "/size/width_mm", "cell_width_mm"),
        Self::side("Cell length", "/size/length_mm", "cell_length_mm"),
    ];

    const fn side(label: &'static str, at: &'static str, column: &'static str) -> Field {
        quantity(label, &range::SIZE).inner().placed(at, &[PartKind::Cell], column)
    }
}

/// Where a cell comes from; salvaged cells must be tested, hobby labels are optimistic.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum CellOrigin {
    /// New, with a data sheet.
    New,
    /// Taken from an old pack.
    Salvaged,
    /// From a hobby pack, rated in C on its label.
    Hobby,
}

part_fields! {
    /// A cell, as its data sheet or its test states it. Absent is not stated.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Cell at "" of &[PartKind::Cell];
    /// Name and where it came from.
    pub offer: Offer,
    /// Chemistry.
    pub chemistry: Chemistry = choice("Chemistry", CHEMISTRIES).needed().as_planned("/packs/0/chemistry"),
    /// Outer size.
    pub size: CellSize = cell_size("Size"),
    /// New, salvaged or hobby.
    pub origin: CellOrigin = choice("Origin", CELL_ORIGINS).needed().or("new"),
    /// Whether this lot was tested by the maker.
    pub tested: bool = flag("I tested this lot"),
    /// Capacity on the label or data sheet.
    pub rated_ah: f64 = quantity("Capacity", &range::CELL_AH).needed(),
    /// DC resistance at 25 C.
    pub dcir_ohm: Option<Known> = known("DCIR", &range::DCIR),
    /// Continuous discharge rating.
    pub discharge_a: Option<f64> = quantity("Continuous rating", &range::CURRENT),
    /// Pulse rating.
    pub pulse_a: Option<f64> = quantity("Pulse rating", &range::CURRENT),
    /// Length of the rated pulse.
    pub pulse_s: Option<f64> = quantity("for", &range::DURATION),
    /// Highest charge current.
    pub charge_a: Option<f64> = quantity("Highest charge current", &range::CURRENT).column("cell_charge_a"),
    /// Full voltage, where the data sheet differs from the chemistry.
    pub full_v: Option<f64> = quantity("Full voltage, if stated", &range::CELL_VOLTS),
    /// End of discharge, where the data sheet differs from the chemistry.
    pub end_v: Option<f64> = quantity("End voltage, if stated", &range::CELL_VOLTS),
}

/// Metal of a strip.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum StripMetal {
    /// Pure nickel.
    Nickel,
    /// Steel under a few micrometres of nickel.
    NickelPlatedSteel,
    /// Copper.
    Copper,
    /// Aluminium, usually as a bus bar.
    Aluminium,
}

part_fields! {
    /// The strip that joins one group to the next.
    #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
    #[serde(deny_unknown_fields)]
    pub struct Strip at "" of &[PartKind::Strip];
    /// Name and where it came from.
    pub offer: Offer,
    /// Metal.
    pub metal: StripMetal = choice("Metal", STRIP_METALS).needed(),
    /// Width.
    pub width_mm: f64 = quantity("Width", &range::SIZE).needed(),
    /// Thickness of one layer.
    pub thickness_mm: f64 = quantity("Thickness", &range::SIZE).needed(),
    /// Layers on one another.
    pub layers: u32 = quantity("Layers", &range::STRIP_COUNT).needed().or("1"),
    /// Strips side by side from group to group; one for each cell of a group is usual.
    pub side_by_side: u32 =
        quantity("In parallel, until laid out", &range::STRIP_COUNT).needed().as_planned("/packs/0/parallel").or("1"),
    /// Length from weld to weld.
    pub length_mm: f64 = quantity("Weld to weld, until laid out", &range::SIZE).needed().or("20"),
}
