//! What is looked at in a lot, and what is thought of it.

use serde::Serialize;
use utoipa::ToSchema;

use super::faults::Fault;
use super::judgement::{CellVerdict, Judgement};
use super::reading::{Conditions, Digest, Kind};

/// Fewest other cells whose scatter says anything.
pub const FELLOWS: usize = 5;

/// A cell as it is looked at.
#[derive(Debug, Clone)]
pub struct Inspected<'a> {
    /// Label.
    pub label: &'a str,
    /// What its readings come to.
    pub digest: &'a Digest,
    /// Faults found with the eye; `None` when it was not inspected.
    pub faults: Option<&'a [Fault]>,
    /// Partner or mark it is kept with.
    pub keep_with: Option<&'a str>,
}

/// Middle and scatter of the cells of a lot that were measured alike.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Typical {
    /// How many cells.
    pub cells: usize,
    /// Median, in the unit of the kind.
    pub median_value: Option<f64>,
    /// Median absolute deviation.
    pub mad_value: Option<f64>,
    /// The best of two to four, which a scatter says nothing of: lowest resistance, highest capacity.
    pub best_of_few_value: Option<f64>,
    /// Conditions they share.
    pub conditions: Conditions,
    /// Cells measured otherwise: they are not compared.
    pub unlike: usize,
}

/// What is thought of one cell.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CellReport {
    /// What to do with it.
    pub verdict: CellVerdict,
    /// Why, the worst first.
    pub judgements: Vec<Judgement>,
    /// What is still to be read.
    pub missing: Vec<Kind>,
}

/// What is thought of a lot.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LotReport {
    /// Judgements on the lot as a whole, the worst first.
    pub judgements: Vec<Judgement>,
    /// Resistance of the cells.
    pub resistance: Typical,
    /// Capacity of the cells.
    pub capacity: Typical,
    /// Voltage lost in a day.
    pub lost_a_day: Typical,
    /// Voltage on arrival.
    pub arrival: Typical,
    /// Maximum voltage on arrival of two cells or more.
    pub highest_arrival_v: Option<f64>,
    /// How many cells came to each verdict, in the order of the verdicts.
    pub counts: Vec<usize>,
}
