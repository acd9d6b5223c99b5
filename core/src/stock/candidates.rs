//! From the stock to the grouping: which cells may be chosen, and which of their readings may be compared.

use super::inspect::typical;
use super::judgement::CellVerdict;
use super::reading::{Digest, Kind, unlike};
use super::state::CellState;
use crate::physics::grouping::Candidate;

/// A cell that is offered for a grouping.
#[derive(Debug, Clone)]
pub struct Offered<'a> {
    /// Label.
    pub label: &'a str,
    /// Name of its lot.
    pub lot: &'a str,
    /// State.
    pub state: CellState,
    /// Whether another plan uses it.
    pub taken: bool,
    /// Verdict.
    pub verdict: CellVerdict,
    /// Its worst fault, in a few words.
    pub reason: &'a str,
    /// What its readings come to.
    pub digest: &'a Digest,
    /// Partner or mark.
    pub keep_with: Option<&'a str>,
    /// Group it must be in, counted from 0.
    pub locked: Option<usize>,
    /// Whether the maker left it out.
    pub left_out: bool,
}

/// Candidates in the order of the cells.
///
/// Scrap, cells to be recovered, retired and taken ones may not be chosen. Only like is compared with like: of those that
/// may, the largest set that was tested alike is taken; a cell whose capacity was tested otherwise may not be chosen, a
/// resistance or a loss that was read otherwise counts as not read. The loss is that of a day.
pub fn candidates(cells: &[Offered<'_>], with_watched: bool) -> Vec<Candidate> {
    let barred: Vec<Option<String>> = cells.iter().map(|c| barred(c, with_watched)).collect();
    let open: Vec<&Digest> = cells.iter().zip(&barred).filter(|(_, b)| b.is_none()).map(|(c, _)| c.digest).collect();
    let [ohm, ah, lost] = [Kind::ResistanceOhm, Kind::CapacityAh, Kind::SelfDischargeV]
        .map(|kind| (kind, typical(open.iter().copied(), kind).conditions));
    // The value if it was read as most were; otherwise in what it differs.
    let alike = |(kind, most): &(Kind, super::Conditions), digest: &Digest| match digest.comparable(*kind) {
        None => (None, vec![]),
        Some((value, conditions)) => {
            let apart = unlike(*kind, most, conditions);
            (apart.is_empty().then_some(value), apart)
        }
    };
    cells
        .iter()
        .zip(barred)
        .map(|(c, barred)| {
            let (capacity_ah, apart) = alike(&ah, c.digest);
            let otherwise = (!apart.is_empty())
                .then(|| format!("capacity tested with {} differing from the others'", apart.join(" and ")));
            Candidate {
                label: c.label.to_owned(),
                capacity_ah,
                resistance_ohm: alike(&ohm, c.digest).0,
                rested_v: c.digest.now_v(),
                drop_v: alike(&lost, c.digest).0,
                keep_with: c.keep_with.map(str::to_owned),
                lot: Some(c.lot.to_owned()),
                locked: c.locked,
                excluded: barred.or(otherwise),
            }
        })
        .collect()
}

/// Why a cell may not be chosen, whatever was read on it.
fn barred(c: &Offered<'_>, with_watched: bool) -> Option<String> {
    let told = match c.verdict {
        _ if c.left_out => "left out by hand".to_owned(),
        _ if c.state == CellState::Retired => "retired".to_owned(),
        _ if c.taken => "reserved for another plan".to_owned(),
        CellVerdict::Scrap => format!("scrap: {}", c.reason.to_lowercase()),
        CellVerdict::Recover => "recover first".to_owned(),
        CellVerdict::Watch if !with_watched => format!("watch: {}", c.reason.to_lowercase()),
        _ => return None,
    };
    Some(told)
}
