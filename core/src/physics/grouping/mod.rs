//! Grouping: which cells of a stock go together in S groups of P.
//!
//! The weakest group ends the run, so it comes first, and evenness second: where only capacities are read, nothing of the weakest
//! group is given away. Where resistance or self-discharge is weighed too, assignments whose weakest groups differ by no more than
//! a capacity test can tell are alike, and the one with the least weighted unevenness is taken. Small tasks are enumerated in
//! full; larger ones are annealed. The same seed gives the same answer, in whatever order the cells stand, since budgets count
//! moves.

mod anneal;
mod deal;
mod equalise;
mod exact;
mod exchange;
mod items;
mod picking;
mod polish;
mod report;
mod school;
mod score;
mod sheet;

pub use equalise::{Equalising, JOIN_WITHIN_V, JoiningCell, join};
pub use picking::{Pick, natural, natural_key, picking_list};
pub use report::{DealOdds, GENTLE_C, Group, Grouping, LeftOut, Member, Term};
pub use school::{Need, PAIR_WITHIN_V, SchoolSheet, StockSchool, school_sheets};
pub use sheet::read_candidates;

use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

use crate::base::chemistry::Chemistry;
use crate::base::progress::Progress;

/// Weakest groups that differ by no more than this share are alike where more than the capacity is weighed: two tests of one cell
/// differ by more. Common practice, no source.
pub const ALIKE_SHARE: f64 = 0.001;
/// Most cells that can be chosen from.
pub const CANDIDATES_MAX: usize = 5000;

/// A cell that may be chosen. Absent is not measured.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Candidate {
    /// Label written on it.
    pub label: String,
    /// Measured capacity; a cell without one is never chosen.
    pub capacity_ah: Option<f64>,
    /// Measured resistance.
    pub resistance_ohm: Option<f64>,
    /// Voltage it rests at now.
    pub rested_v: Option<f64>,
    /// Voltage lost in a day, or over the same rest as the others.
    pub drop_v: Option<f64>,
    /// A partner's label, or a mark shared with the others it must stay with.
    pub keep_with: Option<String>,
    /// Lot it came from.
    pub lot: Option<String>,
    /// Group it must be in, counted from 0.
    pub locked: Option<usize>,
    /// Why it may not be chosen, if it may not.
    pub excluded: Option<String>,
}

/// What counts how much beside the weakest group. Each term is a share; 1 mV of self-discharge counts as 0.1 %.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Weights {
    /// Of the spread of capacity between groups.
    pub capacity: f64,
    /// Of the spread of resistance inside the groups: uneven cells share the current unevenly.
    pub resistance: f64,
    /// Of the spread of self-discharge between groups: it parts the groups while the pack lies.
    pub self_discharge: f64,
}

impl Default for Weights {
    fn default() -> Self {
        Weights { capacity: 1.0, resistance: 0.05, self_discharge: 0.5 }
    }
}

/// How many moves are tried.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Effort {
    /// Good enough to look at at once.
    Quick,
    /// About twenty times as many moves.
    Thorough,
}

impl Effort {
    fn moves(self) -> u64 {
        match self {
            Effort::Quick => 350_000,
            Effort::Thorough => 12_000_000,
        }
    }
}

/// What is to be grouped.
#[derive(Debug, Clone)]
pub struct Task {
    /// The cells to choose from.
    pub candidates: Vec<Candidate>,
    /// Groups in series.
    pub series: usize,
    /// Cells in each.
    pub parallel: usize,
    /// What counts how much.
    pub weights: Weights,
    /// Whether cells of different lots may stand in one pack.
    pub mix_lots: bool,
    /// Chemistry, for the voltage at which cells may be joined.
    pub chemistry: Chemistry,
    /// Highest charge current of one cell; half its capacity in an hour when not stated.
    pub charge_a: Option<f64>,
    /// Where the search begins; the same seed gives the same answer.
    pub seed: u64,
    /// How long it searches.
    pub effort: Effort,
}

impl Task {
    /// Li-ion cells by the usual weights, lots mixed, a quick search.
    pub fn usual(candidates: Vec<Candidate>, series: usize, parallel: usize) -> Task {
        Task {
            candidates,
            series,
            parallel,
            weights: Weights::default(),
            mix_lots: true,
            chemistry: Chemistry::LiIon,
            charge_a: None,
            seed: 1,
            effort: Effort::Quick,
        }
    }
}

/// Why nothing was grouped.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum Refusal {
    /// A value of the task, with its range.
    #[error("{0}")]
    Value(String),
    /// Not enough cells.
    #[error("{wanted} cells are needed; {there} can be chosen{hint}")]
    TooFew {
        /// Series times parallel.
        wanted: usize,
        /// Cells with a capacity that may be chosen.
        there: usize,
        /// What would help.
        hint: String,
    },
    /// Cells that must stay together, or locked ones, cannot be placed.
    #[error("{0}")]
    CannotPlace(String),
    /// Someone ended the search.
    #[error("the search was ended")]
    Ended,
}

/// Chooses the groups.
pub fn group(task: &Task, progress: &dyn Progress) -> Result<Grouping, Refusal> {
    check(task)?;
    // One order for all, so that a shuffled sheet gives the same groups.
    let mut task = task.clone();
    task.candidates.sort_by(|a, b| natural(&a.label, &b.label));
    let task = &task;
    if task.mix_lots {
        return solve(task, progress);
    }
    // One lot a pack: each lot that is large enough is tried, the one with the strongest weakest group wins.
    let mut lots: Vec<Option<&str>> = task.candidates.iter().map(|c| c.lot.as_deref()).collect();
    lots.sort_unstable();
    lots.dedup();
    let mut best: Option<Grouping> = None;
    let mut refused: Option<Refusal> = None;
    for lot in lots {
        let mut one = task.clone();
        for c in one.candidates.iter_mut().filter(|c| c.lot.as_deref() != lot && c.excluded.is_none()) {
            c.excluded = Some("of another lot".to_owned());
        }
        match solve(&one, progress) {
            Ok(found) if best.as_ref().is_none_or(|b| found.weakest_ah > b.weakest_ah) => best = Some(found),
            Ok(_) => {}
            Err(Refusal::Ended) => return Err(Refusal::Ended),
            // Of the lots that are too small the largest is told.
            Err(Refusal::TooFew { there, .. }) if matches!(&refused, Some(Refusal::TooFew { there: more, .. }) if *more >= there) =>
                {}
            Err(refusal) => refused = Some(refusal),
        }
    }
    best.ok_or_else(|| match refused {
        Some(Refusal::TooFew { wanted, there, .. }) => {
            Refusal::TooFew { wanted, there, hint: " from one lot; allow lots to be mixed, or add cells".to_owned() }
        }
        Some(other) => other,
        None => Refusal::TooFew { wanted: task.series * task.parallel, there: 0, hint: String::new() },
    })
}

fn check(task: &Task) -> Result<(), Refusal> {
    use crate::base::range::{PARALLEL, SERIES, WEIGHT};
    let w = &task.weights;
    for (value, range) in [
        (task.series as f64, &SERIES),
        (task.parallel as f64, &PARALLEL),
        (w.capacity, &WEIGHT),
        (w.resistance, &WEIGHT),
        (w.self_discharge, &WEIGHT),
    ] {
        range.check(value).map_err(|e| Refusal::Value(e.to_string()))?;
    }
    let cells = task.series * task.parallel;
    if cells > 400 {
        return Err(Refusal::Value(format!("{cells} cells: a pack has at most 400")));
    }
    if task.candidates.len() > CANDIDATES_MAX {
        let found = task.candidates.len();
        return Err(Refusal::Value(format!("{found} cells to choose from: at most {CANDIDATES_MAX}")));
    }
    Ok(())
}

fn solve(task: &Task, progress: &dyn Progress) -> Result<Grouping, Refusal> {
    // Bundles may leave too few; then those without a reading are taken in after all.
    let read = items::without_unread(task);
    let (task, pool) = match items::gather(&read) {
        Ok(pool) => (&read, pool),
        Err(_) => (task, items::gather(task)?),
    };
    let found = if exact::is_small(&pool) {
        exact::solve(&pool, task).ok_or_else(|| exchange::unfilled(&pool))?
    } else {
        anneal::solve(&pool, task, progress)?
    };
    Ok(report::report(task, &pool, &found))
}
