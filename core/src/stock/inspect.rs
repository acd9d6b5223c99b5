//! A lot inspected: each cell against its chemistry, its claim and the others; the lot as a whole.

use super::judgement::{CellVerdict, Judgement};
use super::lot::Lot;
use super::reading::{Conditions, Digest, Kind, unlike};
use super::report::{CellReport, FELLOWS, Inspected, LotReport, Typical};
use super::rules;
use crate::base::robust::{mad, median};
use crate::base::severity::Severity;

/// Inspects the cells of a lot; the reports are in the order of the cells.
pub fn inspect(lot: &Lot, cells: &[Inspected<'_>]) -> (LotReport, Vec<CellReport>) {
    let typical_of = |kind| typical(cells.iter().map(|c| c.digest), kind);
    let [resistance, capacity, lost_a_day, arrival] =
        [Kind::ResistanceOhm, Kind::CapacityAh, Kind::SelfDischargeV, Kind::ArrivalV].map(typical_of);
    let arrived: Vec<f64> = cells.iter().filter_map(|c| c.digest.arrival.as_ref()).map(|m| m.value).collect();
    let highest_arrival_v = arrived.iter().copied().reduce(f64::max).filter(|_| arrived.len() > 1);
    let mut report =
        LotReport { judgements: vec![], resistance, capacity, lost_a_day, arrival, highest_arrival_v, counts: vec![] };
    report.judgements = rules::lot::judge(lot, cells, &report);
    let condemned = report.judgements.iter().any(|j| j.severity == Severity::Stop);
    let partners = rules::pair::Partners::of(cells);
    let reports: Vec<CellReport> = cells
        .iter()
        .enumerate()
        .map(|(i, cell)| {
            let mut judgements = vec![];
            if condemned {
                judgements.push(rules::lot::condemned());
            }
            judgements.extend(rules::cell::judge(lot, cell, &report));
            judgements.extend(partners.judge(cells, i));
            judgements.sort_by_key(|j| std::cmp::Reverse(j.severity));
            let missing = missing(cell.digest);
            CellReport { verdict: verdict(cell, &judgements, &missing), judgements, missing }
        })
        .collect();
    report.counts = CellVerdict::ALL.iter().map(|v| reports.iter().filter(|r| r.verdict == *v).count()).collect();
    report.judgements.extend(rules::lot::after(&report, cells));
    report.judgements.sort_by_key(|j| std::cmp::Reverse(j.severity));
    (report, reports)
}

/// What must be read before a cell can be fine; self-discharge takes weeks and is only asked for.
fn missing(digest: &Digest) -> Vec<Kind> {
    let usable = |m: &Option<super::Measured>| m.as_ref().is_some_and(|m| m.usable().is_some());
    let mut found = vec![];
    if digest.now_v().is_none() {
        found.push(Kind::ArrivalV);
    }
    if !usable(&digest.resistance) {
        found.push(Kind::ResistanceOhm);
    }
    if !usable(&digest.capacity) {
        found.push(Kind::CapacityAh);
    }
    if digest.drop.is_none() {
        found.push(Kind::SelfDischargeV);
    }
    found
}

fn verdict(cell: &Inspected<'_>, judgements: &[Judgement], missing: &[Kind]) -> CellVerdict {
    let has = |severity| judgements.iter().any(|j| j.severity == severity);
    if has(Severity::Stop) {
        CellVerdict::Scrap
    } else if judgements.iter().any(|j| j.rule == rules::cell::RECOVER) {
        CellVerdict::Recover
    } else if missing.iter().any(|k| *k != Kind::SelfDischargeV) || cell.digest.is_empty() {
        CellVerdict::Unfinished
    } else if has(Severity::Caution) {
        CellVerdict::Watch
    } else {
        CellVerdict::Fine
    }
}

/// Median and scatter of the largest set of cells that were measured alike.
pub(super) fn typical<'d>(digests: impl Iterator<Item = &'d Digest>, kind: Kind) -> Typical {
    let found: Vec<(f64, &Conditions)> = digests.filter_map(|d| d.comparable(kind)).collect();
    let mut sets: Vec<(&Conditions, Vec<f64>)> = vec![];
    for &(value, conditions) in &found {
        match sets.iter_mut().find(|(with, _)| unlike(kind, with, conditions).is_empty()) {
            Some((_, values)) => values.push(value),
            None => sets.push((conditions, vec![value])),
        }
    }
    // Of sets of equal size the first met, so that the answer is the same every time.
    let Some((conditions, values)) = sets.into_iter().rev().max_by_key(|(_, values)| values.len()) else {
        return Typical::default();
    };
    let best = match kind {
        Kind::ResistanceOhm => values.iter().copied().reduce(f64::min),
        Kind::CapacityAh => values.iter().copied().reduce(f64::max),
        _ => None,
    };
    Typical {
        best_of_few_value: best.filter(|_| (2..FELLOWS).contains(&values.len())),
        cells: values.len(),
        median_value: median(&values),
        mad_value: mad(&values),
        conditions: conditions.clone(),
        unlike: found.len() - values.len(),
    }
}
