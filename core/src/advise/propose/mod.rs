//! Whole plans from the survey alone, cell to plug to charger, the way an experienced friend would put them together.
//!
//! A beam over the ways to feed the device (`ways`), the cells or ready packs for each (`starts`), and one good part after another at every place
//! that is open (`complete`); the same `assess` judges every step, and nothing with a stop is proposed. `merits` weighs what came out on shared
//! scales, `choose` takes the best by each wish, `refuse` says why the others cannot be, and what to look for where a part is missing.
//! The budget is counted in plans, not in time, so that the same survey gives the same proposals.

mod asked;
mod choose;
mod complete;
mod merits;
mod refuse;
mod starts;
mod ways;

use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};

use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::assess::ToFindOut;
use crate::base::phrase::Phrase;
use crate::base::progress::{Progress, Unwatched};
use crate::parts::catalogue::Catalogue;
use crate::physics::grouping::Candidate;
use crate::plan::{Cell, Change, FieldError, Plan};

use asked::Asked;
use complete::Prefer;
pub use refuse::Refused;

/// What a plan may be the best in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Wish {
    /// From what is at hand.
    AtHand,
    /// The least work.
    Simplest,
    /// The longest run.
    Longest,
    /// The least mass.
    Lightest,
    /// The least money.
    Cheapest,
    /// The first that can be built.
    Soonest,
}

impl Wish {
    /// Every wish, in the order of the proposals.
    pub const ALL: [Wish; 6] =
        [Wish::AtHand, Wish::Simplest, Wish::Longest, Wish::Lightest, Wish::Cheapest, Wish::Soonest];
}

/// What counts most, and what must be so.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Wishes {
    /// The wish whose proposal comes first.
    pub first: Option<Wish>,
    /// How much each wish counts, 0 to 1, in the order of `Wish::ALL`; none is all alike.
    pub weights: Vec<f64>,
    /// What is chosen already counts for nothing: from the survey alone.
    pub afresh: bool,
    /// Nothing is welded.
    pub no_welding: bool,
    /// The device can be put back as it was.
    pub reversible: bool,
    /// It is charged from a USB supply.
    pub usb: bool,
}

/// Cells of one lot that are free to be used.
#[derive(Debug, Clone)]
pub struct StockLot {
    /// The cell as claimed.
    pub cell: Cell,
    /// Its tested cells, each with its id in the stock.
    pub cells: Vec<(Option<String>, Candidate)>,
}

/// What a proposal comes to, on the scales shared by all.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Merits {
    /// Simulated run; absent where the current is not known.
    pub run_s: Option<f64>,
    /// What it may be at least.
    pub run_low_s: Option<f64>,
    /// What it may be at most.
    pub run_high_s: Option<f64>,
    /// Mass of the pack with all parts that state one.
    pub mass_g: Option<f64>,
    /// Price of what is to be bought; absent while a price is not known.
    pub price: Option<f64>,
    /// Lines to buy whose price is not known.
    pub unpriced: usize,
    /// Days until the last part arrives; absent while one is not known.
    pub arrives_days: Option<f64>,
    /// Lines to buy.
    pub to_buy: usize,
    /// Cells to weld.
    pub welded: u32,
    /// Share of the lines that is at hand.
    pub at_hand: f64,
}

/// A whole plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Proposal {
    /// The best by these wishes.
    pub wishes: Vec<Wish>,
    /// In words: "Longest run".
    pub title: String,
    /// Counts, chemistry and way: "4S2P Li-ion, direct".
    pub name: String,
    /// Cell or pack it is made of.
    pub made_of: String,
    /// Why, in one sentence.
    pub why: Phrase,
    /// What it costs beside the money, in one sentence; absent where nothing.
    pub price: Option<Phrase>,
    /// On the shared scales.
    pub merits: Merits,
    /// Titles of the cautions it has.
    pub cautions: Vec<Phrase>,
    /// The one measurement that would overturn it; a proposal with one is provisional.
    pub provisional: Option<ToFindOut>,
    /// The changes that take it over: one step to be undone.
    pub changes: Vec<Change>,
    /// The whole plan.
    pub plan: Plan,
}

/// Proposals and what was refused.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Proposals {
    /// What must be known first; absent when there are proposals.
    pub missing: Option<String>,
    /// At most six, the wanted one first.
    pub proposals: Vec<Proposal>,
    /// What was taken for granted because the survey does not say it.
    pub assumed: Vec<String>,
    /// Ways that cannot be, each with its deciding reason.
    pub refusals: Vec<Refused>,
    /// Plans that were completed and judged.
    pub tried: usize,
}

/// Someone who watches the search.
pub trait Watcher: Progress {
    /// Told of the first whole plan, long before the search ends.
    fn first(&self, _: Proposals) {}
}

impl Watcher for Unwatched {}

/// Proposes whole plans for a survey. What the survey has chosen already is kept. Refuses a plan that cannot stand.
pub fn propose(
    survey: &Plan,
    catalogue: &Catalogue,
    stock: &[StockLot],
    wishes: &Wishes,
    watcher: &dyn Watcher,
) -> Result<Proposals, Vec<FieldError>> {
    survey.check()?;
    let asked = Asked::of(survey, wishes.afresh);
    let (survey, typed) = (&asked.survey, survey);
    let ways = ways::ways(survey, wishes)?;
    if let Some(missing) = ways.missing {
        return Ok(Proposals { missing: Some(missing), ..Proposals::default() });
    }
    let starts: Vec<starts::Start> =
        ways.open.par_iter().flat_map_iter(|way| starts::starts(survey, way, catalogue, stock, wishes)).collect();
    let count = starts.len();
    let tried = AtomicUsize::new(0);
    let shown = AtomicBool::new(false);
    let show_first = |completed: &complete::Tried| {
        if completed.failed.is_some() || shown.load(Ordering::Relaxed) {
            return;
        }
        let Some(first) = choose::first_found(typed, asked.wanted_s, completed, catalogue) else { return };
        if !shown.swap(true, Ordering::Relaxed) {
            let (proposals, assumed) = (vec![first], asked.assumed.clone());
            watcher.first(Proposals { proposals, assumed, tried: 1, ..Proposals::default() });
        }
    };
    let tries: Vec<complete::Tried> = starts
        .into_par_iter()
        .filter_map(|start| {
            let done = tried.fetch_add(1, Ordering::Relaxed);
            if !watcher.step(done as f64 / count as f64) {
                return None;
            }
            let completed = complete::complete(start, catalogue, wishes, Prefer::AsSuggested);
            show_first(&completed);
            Some(completed)
        })
        .collect();
    let (whole, failed): (Vec<_>, Vec<_>) = tries.into_iter().partition(|t| t.failed.is_none());
    let done: Vec<String> = whole.iter().map(|t| t.start.way.name.clone()).collect();
    let proposals = choose::choose(typed, asked.wanted_s, whole, catalogue, wishes);
    Ok(Proposals {
        missing: None,
        assumed: asked.assumed,
        refusals: refuse::refusals(&ways.refused, &failed, &done),
        proposals,
        tried: count,
    })
}
