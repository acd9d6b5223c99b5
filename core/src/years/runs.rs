//! Runs against what was predicted, and what is likely behind one that was too short.

use serde::Serialize;
use utoipa::ToSchema;

use super::card::PackCard;
use super::entry::{Logged, Placed, counted};
use super::measured::MeasuredStory;
use super::spread::SpreadStory;

/// A run in the cold is shorter by itself. Common practice, no source.
const COLD_C: f64 = 10.0;
/// A resistance grown by so much shortens runs. Common practice, no source.
const GROWN: f64 = 1.5;
/// A spread at rest that shortens runs: the weakest group ends them. Common practice, no source.
const APART_V: f64 = 0.05;
/// A capacity test this old says little of a run.
const FRESH_S: i64 = 200 * 86_400;

/// A run against the prediction.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunAgainst {
    /// Number of its entry.
    pub number: usize,
    /// When, in seconds since 1970.
    pub at_s: i64,
    /// How long it went.
    pub took_s: f64,
    /// Shortest that was to be expected of what the pack then had.
    pub least_s: f64,
    /// Longest.
    pub most_s: f64,
    /// What is likely behind it, where it was too short.
    pub because: Option<String>,
}

/// Reads the runs that went from full to the cut-off.
pub(super) fn runs(
    card: &PackCard,
    all: &[Placed<'_>],
    measured: &MeasuredStory,
    spread: &SpreadStory,
) -> Vec<RunAgainst> {
    let Some(new) = card.run else { return vec![] };
    counted(all)
        .filter_map(|p| match p.entry.happened {
            Logged::Run { took_s: Some(took_s), is_whole: true, temp_c, .. } => Some((p, took_s, temp_c)),
            _ => None,
        })
        .map(|(p, took_s, temp_c)| {
            let tested = measured.capacity.iter().rev().find(|c| c.is_like && c.at_s <= p.at_s);
            let share = tested.map_or(1.0, |c| c.first_share.min(1.0));
            let (least_s, most_s) = (new.least_s * share, new.most_s * share);
            let because = (took_s < least_s).then(|| {
                let apart = spread.points.iter().rev().find(|s| s.at_s <= p.at_s).filter(|s| s.spread_v > APART_V);
                let grown = measured.resistance.iter().rev().find(|r| r.at_s <= p.at_s).filter(|r| r.times > GROWN);
                let is_tested = tested.is_some_and(|c| p.at_s - c.at_s <= FRESH_S);
                cause(temp_c, apart.map(|s| s.lowest), grown.map(|r| r.times), is_tested)
            });
            RunAgainst { number: p.number, at_s: p.at_s, took_s, least_s, most_s, because }
        })
        .collect()
}

fn cause(temp_c: Option<f64>, lowest: Option<usize>, grown: Option<f64>, is_tested: bool) -> String {
    if temp_c.is_some_and(|c| c < COLD_C) {
        return "It was cold: compare a run at room temperature.".to_owned();
    }
    if let Some(group) = lowest {
        return format!("Group {group} is lower than the others and ends the run for all of them.");
    }
    if let Some(ratio) = grown {
        return format!("The resistance is {ratio:.1} times the first: the voltage sags to the cut-off early.");
    }
    if is_tested {
        return "The capacity was tested not long ago: look at the load. A dull blade, a tight bearing or a higher setting draws more."
            .to_owned();
    }
    "Capacity or load: test the capacity, which tells them apart.".to_owned()
}
