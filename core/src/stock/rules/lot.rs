//! The lot as a whole: claims that cannot be, voltage apart, readings that cannot be compared.

use crate::base::chemistry::Chemistry;
use crate::base::limit::above;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::base::severity::Severity::{self, Caution, Note, Stop};
use crate::physics::cells::{Claim, DENSEST_WH_PER_L, judge_claim, volume_l};
use crate::physics::grouping::JOIN_WITHIN_V;
use crate::stock::judgement::{CellVerdict, Judgement};
use crate::stock::lot::Lot;
use crate::stock::reading::Kind;
use crate::stock::report::{Inspected, LotReport};

/// Times a resistance is read, with the cell seated again. Common practice, no source.
const REPEATS: u32 = 3;

/// Looks at the lot before its cells.
pub fn judge(lot: &Lot, cells: &[Inspected<'_>], report: &LotReport) -> Vec<Judgement> {
    let mut found = vec![];
    found.extend(claim(lot));
    found.extend(volts(lot, cells));
    for (typical, what, kind) in [
        (&report.resistance, "resistance", Kind::ResistanceOhm),
        (&report.capacity, "capacity", Kind::CapacityAh),
        (&report.lost_a_day, "self-discharge", Kind::SelfDischargeV),
    ] {
        if typical.unlike > 0 {
            let why = Phrase::words(format!(
                "{} of the cells have their {what} from other conditions than the {} others: they are not compared with them. Measure those again, or all in one sitting.",
                typical.unlike, typical.cells
            ));
            let rule = match kind {
                Kind::ResistanceOhm => "stock.resistance-unlike",
                Kind::CapacityAh => "stock.capacity-unlike",
                _ => "stock.self-discharge-unlike",
            };
            found.push(Judgement::new(Caution, rule, "Not all cells measured alike", why));
        }
    }
    let once = cells.iter().filter_map(|c| c.digest.resistance.as_ref()).filter(|m| m.repeats < REPEATS).count();
    if once > 0 {
        let why = Phrase::words(format!(
            "{once} resistances were read fewer than {REPEATS} times. Take the cell out and put it in again for each: contacts alone differ by tens of milliohms."
        ));
        found.push(Judgement::new(Note, "stock.few-repeats", "Resistances read only once", why));
    }
    found
}

fn claim(lot: &Lot) -> Option<Judgement> {
    let cell = &lot.cell;
    let said = |most_ah: f64, then: &str| {
        Phrase::words("").value(cell.rated_ah, Unit::Ah).text(" is claimed; ").value(most_ah, Unit::Ah).text(then)
    };
    let judged = |severity, rule, title, most_ah, then| {
        let inputs = [("claimed", cell.rated_ah, Unit::Ah), ("most at this size", most_ah, Unit::Ah)];
        Judgement::new(severity, rule, title, said(most_ah, then))
            .by("claimed > most at this size and chemistry", &inputs)
    };
    match judge_claim(cell) {
        Claim::Impossible { most_ah } => Some(judged(
            Stop,
            "stock.impossible-claim",
            "Capacity impossible for a cell this size",
            most_ah,
            " is the most there is at this size. A seller who prints that cannot be trusted: reject the whole lot.",
        )),
        Claim::Doubtful { usual_ah } => Some(judged(
            Caution,
            "stock.doubtful-claim",
            "Claimed capacity doubtful",
            usual_ah,
            " is the most that is usual at this size. Test one before you use the lot.",
        )),
        Claim::Plausible => {
            let facts = cell.chemistry.facts();
            let volume_l = volume_l(&cell.size);
            let density = cell.rated_ah * facts.nominal_v / volume_l;
            above(density, DENSEST_WH_PER_L).then(|| {
                let why = Phrase::words("The claimed capacity makes ")
                    .value(density, Unit::WhPerL)
                    .text("; the densest cells on sale reach about ")
                    .value(DENSEST_WH_PER_L, Unit::WhPerL)
                    .text(". The claim or the size is wrong.");
                Judgement::new(Stop, "stock.impossible-density", "Capacity impossible for this volume", why).by(
                    "Wh/L = Ah × nominal V ÷ volume",
                    &[
                        ("claimed", cell.rated_ah, Unit::Ah),
                        ("nominal", facts.nominal_v, Unit::V),
                        ("density", density, Unit::WhPerL),
                    ],
                )
            })
        }
    }
}

/// Voltage on arrival equal within 0.05 V (Li-ion). Common practice, no source.
fn volts(lot: &Lot, cells: &[Inspected<'_>]) -> Option<Judgement> {
    let floor_v = lot.cell.chemistry.facts().floor_v;
    let alive = cells.iter().filter_map(|c| c.digest.arrival.as_ref()).map(|m| m.value).filter(|v| *v >= floor_v);
    let (low_v, high_v) = alive.fold((f64::INFINITY, 0.0f64), |(l, h), v| (l.min(v), h.max(v)));
    let apart_v = high_v - low_v;
    // On the plateau some ten millivolts are much; cells that part further are at different ends of it.
    let most_v = if lot.cell.chemistry == Chemistry::LiFePo4 { 2.0 * JOIN_WITHIN_V } else { JOIN_WITHIN_V };
    if !above(apart_v, most_v) {
        return None;
    }
    let severity = if above(apart_v, 2.0 * JOIN_WITHIN_V) { Caution } else { Note };
    let why = Phrase::words("Cells above the minimum came ")
        .value(apart_v, Unit::V)
        .text(" apart. Bring them to the same voltage, one by one, before you connect any in parallel.");
    Some(Judgement::new(severity, "stock.volts-apart", "Cells came at different voltages", why).by(
        "apart = highest − lowest, of cells above the minimum",
        &[("lowest", low_v, Unit::V), ("highest", high_v, Unit::V), ("most to join", JOIN_WITHIN_V, Unit::V)],
    ))
}

/// What every cell of a condemned lot is told.
pub fn condemned() -> Judgement {
    let why = Phrase::words("The claim for this lot is impossible: nothing on its label can be used.");
    Judgement::new(Stop, "stock.lot-condemned", "Whole lot rejected", why)
}

/// Looks at the lot once its cells are judged.
pub fn after(report: &LotReport, cells: &[Inspected<'_>]) -> Option<Judgement> {
    let count = |v: CellVerdict| report.counts[v as usize];
    let scrap = count(CellVerdict::Scrap);
    let untested = cells.iter().filter(|c| c.digest.is_empty()).count();
    // A lot that is scrap as a whole was condemned for its own reason.
    if scrap == 0 || scrap == cells.len() || untested == cells.len() {
        return None;
    }
    // A lot of which much is scrap: what is left lived the same life.
    let severity: Severity = if scrap * 4 >= cells.len() { Caution } else { Note };
    let why = Phrase::words(format!(
        "{scrap} of {} are scrap, {} to recover, {} to watch, {} fine. Those left aged the same way: test them again after some cycles.",
        cells.len(),
        count(CellVerdict::Recover),
        count(CellVerdict::Watch),
        count(CellVerdict::Fine),
    ));
    Some(Judgement::new(severity, "stock.scrap-share", "Part of the lot is scrap", why))
}
