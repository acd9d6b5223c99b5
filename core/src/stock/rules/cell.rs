//! One cell: seen, metered, against its claim, against the others.

use crate::base::chemistry::{Chemistry, curve};
use crate::base::limit::{above, below};
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::base::robust::modified_z;
use crate::base::severity::Severity::{Caution, Note, Stop};
use crate::base::source::Source;
use crate::plan::CellOrigin;
use crate::stock::judgement::Judgement;
use crate::stock::lot::Lot;
use crate::stock::reading::{Drop, Kind, Method, SPREAD_MAX, unlike};
use crate::stock::report::{FELLOWS, Inspected, LotReport, Typical};

/// Rule whose cells are recovered rather than used.
pub const RECOVER: &str = "stock.recover";
/// Modified z-score beyond which a cell does not belong. Iglewicz and Hoaglin 1993 (from memory).
const OUTLIER_Z: f64 = 3.5;
/// Least scatter believed, over the median: no verdict is finer than the meter. Assumed.
const LEAST_SCATTER: f64 = 0.02;
/// Least scatter of the loss in a day believed: a display of one millivolt over a week. Assumed.
const LEAST_LOSS_V: f64 = 0.000_2;
/// Share of the first capacity and multiple of the first resistance at which a cell retires. Common practice, no source.
const WORN_CAPACITY: f64 = 0.8;
/// Share of its capacity below which a cell is of no use whatever the others. Common practice, no source: 50 to 60 %.
const GONE_CAPACITY: f64 = 0.5;
/// Against the best of two to four others: times its resistance, share of its capacity, voltage below it on arrival. Common
/// practice, no source: cells of one batch agree to a tenth, and to hundredths of a volt.
const FEW_RESISTANCE: f64 = 1.5;
const FEW_CAPACITY: f64 = 0.8;
const ARRIVAL_APART_V: f64 = 0.1;
const WORN_RESISTANCE: f64 = 2.0;
/// Claim exceeded so far that the test is doubted. Assumed.
const TOO_GOOD: f64 = 1.1;
/// Share of the charge in ten millivolts from which on the voltage of phosphate tell nothing: the loss allowed in a week
/// would hide in the error of a meter. Assumed.
const PLATEAU_SLOPE: f64 = 0.015;
/// Loss within one to two weeks that is scrap. Common practice, no source, for 4.2 V cells.
const LOSS_MAX_V: f64 = 0.030;
const WEEKS_S: f64 = 14.5 * 86_400.0;
/// Charge lost in a week that is scrap where voltage does not tell. Assumed: what 30 mV is on a full Li-ion cell.
const LOSS_MAX_SHARE: f64 = 0.03;

/// Everything to be said of one cell, but for its partner.
pub fn judge(lot: &Lot, cell: &Inspected<'_>, report: &LotReport) -> Vec<Judgement> {
    let mut found = faults(cell);
    found.extend(volts(lot, cell));
    found.extend(arrived_low(lot, cell, report));
    found.extend(readings(cell));
    found.extend(capacity(lot, cell, report));
    found.extend(resistance(lot, cell, report));
    found.extend(self_discharge(lot, cell, report));
    found
}

fn faults(cell: &Inspected<'_>) -> Vec<Judgement> {
    let judged = |text: &crate::stock::FaultText| {
        let why = Phrase::words(format!("{}: {}.", text.look_for, text.then));
        let severity = if text.scrap { Stop } else { Caution };
        Judgement::new(severity, "stock.fault", if text.scrap { "Damaged" } else { "Repair first" }, why)
    };
    cell.faults.unwrap_or_default().iter().map(|f| judged(f.text())).collect()
}

fn volts(lot: &Lot, cell: &Inspected<'_>) -> Option<Judgement> {
    let facts = lot.cell.chemistry.facts();
    let v = cell.digest.now_v()?;
    // What was below the floor once stays scrap, whatever it was charged to since.
    let lowest_v = cell.digest.arrival.as_ref().map_or(v, |m| m.value.min(v));
    let inputs = [("read", lowest_v, Unit::V), ("floor", facts.floor_v, Unit::V), ("cut-off", facts.cutoff_v, Unit::V)];
    if below(lowest_v, facts.floor_v) {
        let why = Phrase::words("")
            .value(lowest_v, Unit::V)
            .text(" is below the minimum of ")
            .value(facts.floor_v, Unit::V)
            .text(": copper may have dissolved, and charging can short it inside.");
        return Some(
            Judgement::new(Stop, "stock.below-floor", "Below the minimum of its chemistry", why)
                .by("read < floor", &inputs),
        );
    }
    if below(v, facts.cutoff_v) {
        let why = Phrase::words("")
            .value(v, Unit::V)
            .text(" is between minimum and cut-off. Charge it to ")
            .value(facts.cutoff_v, Unit::V)
            .text(" at a tenth of its capacity, under watch, on something fireproof; warm means scrap. Then test it.");
        return Some(
            Judgement::new(Caution, RECOVER, "Recover slowly and watch", why).by("floor ≤ read < cut-off", &inputs),
        );
    }
    above(v, facts.never_above_v).then(|| {
        let why = Phrase::words("")
            .value(v, Unit::V)
            .text(" is above the limit of this chemistry, ")
            .value(facts.never_above_v, Unit::V)
            .text(". Read again; if it stays, the cell was overcharged.");
        Judgement::new(Stop, "stock.over-charged", "Over-charged", why)
            .by("read > never above", &[("read", v, Unit::V), ("never above", facts.never_above_v, Unit::V)])
    })
}

/// Far below the best of the others on arrival: one lot leaves its factory at one voltage.
fn arrived_low(lot: &Lot, cell: &Inspected<'_>, report: &LotReport) -> Option<Judgement> {
    let (v, best_v) = (cell.digest.arrival.as_ref()?.value, report.highest_arrival_v?);
    let facts = lot.cell.chemistry.facts();
    // Below the cut-off it has a verdict of its own.
    if below(v, facts.cutoff_v) || !above(best_v - v, ARRIVAL_APART_V) {
        return None;
    }
    let why = Phrase::words("It came at ")
        .value(v, Unit::V)
        .text(", the best of the others at ")
        .value(best_v, Unit::V)
        .text(": it was used, or it discharges itself. Charge all alike, rest them for two weeks, and read the loss.");
    Some(Judgement::new(Caution, "stock.arrived-low", "Emptier than the others on arrival", why).by(
        "apart = highest of the lot − read",
        &[("read", v, Unit::V), ("highest", best_v, Unit::V), ("most", ARRIVAL_APART_V, Unit::V)],
    ))
}

/// Repeats that lie too far apart.
fn readings(cell: &Inspected<'_>) -> Vec<Judgement> {
    let d = cell.digest;
    [(&d.resistance, Unit::Ohm, "resistance"), (&d.capacity, Unit::Ah, "capacity")]
        .into_iter()
        .filter_map(|(measured, unit, what)| {
            let m = measured.as_ref().filter(|m| m.usable().is_none())?;
            let spread = m.spread_share?;
            let (low, high) = m.range();
            let why = Phrase::words(format!("{} readings of its {what} are between ", m.repeats))
                .value(low, unit)
                .text(" and ")
                .value(high, unit)
                .text(": the worse one counts. Clean the ends, put it in again, read three times.");
            Some(Judgement::new(Caution, "stock.no-reading", "The repeats do not agree", why).by(
                "spread = (largest − smallest) ÷ mean",
                &[("mean", m.value, unit), ("spread", spread, Unit::Share), ("most", SPREAD_MAX, Unit::Share)],
            ))
        })
        .collect()
}

fn capacity(lot: &Lot, cell: &Inspected<'_>, report: &LotReport) -> Vec<Judgement> {
    let Some(m) = &cell.digest.capacity else { return vec![] };
    let ah = m.range().0;
    let mut found = vec![];
    let left = ah / lot.cell.rated_ah;
    let inputs = [("tested", ah, Unit::Ah), ("claimed", lot.cell.rated_ah, Unit::Ah), ("left", left, Unit::Share)];
    let new = lot.cell.origin == CellOrigin::New;
    if below(left, GONE_CAPACITY) {
        let why = Phrase::words("")
            .value(left, Unit::Share)
            .text(" of the claim is left: such a cell drags its group down and may be shorting inside. Recycle it.");
        found.push(
            Judgement::new(Stop, "stock.capacity-gone", "Hardly any capacity left", why)
                .by("left = tested ÷ claimed", &inputs),
        );
        return found;
    }
    if below(left, WORN_CAPACITY) {
        let why = Phrase::words("").value(left, Unit::Share).text(if new {
            " of the claim in a cell sold as new: it is not what it says. Send the lot back."
        } else {
            " of the claim is left; cells retire at 80 %. If you use it, then with others like it, and test it again soon."
        });
        let title = if new { "New, but far below its claim" } else { "Worn: below 80 % of its capacity" };
        let severity = if new { Stop } else { Caution };
        found.push(Judgement::new(severity, "stock.capacity-left", title, why).by("left = tested ÷ claimed", &inputs));
    } else if above(left, TOO_GOOD) {
        let why = Phrase::words("").value(left, Unit::Share).text(
            " of the claim was read. Check the tester's current and cut-off before you believe it, or the claim of the lot.",
        );
        found.push(
            Judgement::new(Note, "stock.capacity-over", "More than claimed", why).by("tested ÷ claimed", &inputs),
        );
    }
    let apart = unlike(Kind::CapacityAh, &report.capacity.conditions, &m.conditions);
    if !apart.is_empty() {
        found.push(not_compared("capacity", &apart));
    } else if let Some(best) = report.capacity.best_of_few_value.filter(|best| below(ah, FEW_CAPACITY * best)) {
        let why = Phrase::words("The best of the few others holds ")
            .value(best, Unit::Ah)
            .text(", it holds ")
            .value(ah, Unit::Ah)
            .text(": with so few this is a rough measure. Leave it out of any group.");
        found.push(Judgement::new(Caution, "stock.capacity-outlier", "Far weaker than the others", why).by(
            "read ÷ best of the others",
            &[("read", ah, Unit::Ah), ("best", best, Unit::Ah), ("share", ah / best, Unit::Share)],
        ));
    } else if let Some((z, median)) = outlier(ah, &report.capacity, LEAST_SCATTER)
        && below(z, -OUTLIER_Z)
    {
        let why = Phrase::words("The others hold ")
            .value(median, Unit::Ah)
            .text(", it holds ")
            .value(ah, Unit::Ah)
            .text(": something happened to this one. Leave it out of any group.");
        found.push(
            Judgement::new(Caution, "stock.capacity-outlier", "Far weaker than the others", why)
                .by(
                    "z = 0.6745 × (read − median) ÷ MAD",
                    &[("read", ah, Unit::Ah), ("median", median, Unit::Ah), ("z", z, Unit::Ratio)],
                )
                .from(Source::IglewiczHoaglin),
        );
    }
    found
}

fn resistance(lot: &Lot, cell: &Inspected<'_>, report: &LotReport) -> Vec<Judgement> {
    let Some(m) = &cell.digest.resistance else { return vec![] };
    let ohm = m.range().1;
    let mut found = vec![];
    let apart = unlike(Kind::ResistanceOhm, &report.resistance.conditions, &m.conditions);
    if !apart.is_empty() {
        found.push(not_compared("resistance", &apart));
    } else if let Some(best) = report.resistance.best_of_few_value.filter(|best| above(ohm, FEW_RESISTANCE * best)) {
        let why = Phrase::words("The best of the few others has ")
            .value(best, Unit::Ohm)
            .text(", it has ")
            .value(ohm, Unit::Ohm)
            .text(": with so few this is a rough measure. Put it in again and read again; then leave it out.");
        found.push(Judgement::new(Caution, "stock.resistance-outlier", "Resistance far above the others", why).by(
            "read ÷ best of the others",
            &[("read", ohm, Unit::Ohm), ("best", best, Unit::Ohm), ("times", ohm / best, Unit::Ratio)],
        ));
    } else if let Some((z, median)) = outlier(ohm, &report.resistance, LEAST_SCATTER)
        && above(z.abs(), OUTLIER_Z)
    {
        let high = z > 0.0;
        let why = Phrase::words("The others have ")
            .value(median, Unit::Ohm)
            .text(", it has ")
            .value(ohm, Unit::Ohm)
            .text(if high {
                ": it would carry less of the current and run hot. Put it in again and read again; then leave it out."
            } else {
                ": it may be another cell in the same sleeve, or partly shorted. Read again."
            });
        let title = if high { "Resistance far above the others" } else { "Resistance far below the others" };
        found.push(
            Judgement::new(Caution, "stock.resistance-outlier", title, why)
                .by(
                    "z = 0.6745 × (read − median) ÷ MAD",
                    &[("read", ohm, Unit::Ohm), ("median", median, Unit::Ohm), ("z", z, Unit::Ratio)],
                )
                .from(Source::IglewiczHoaglin),
        );
    }
    let Some(new) = &lot.cell.dcir_ohm else { return found };
    let stated_by = lot.stated_ohm_by.unwrap_or(Method::DcPulse);
    // A reading at 1 kHz is lower than one under load: over twice a DC figure it is so all the more.
    let comparable = m.conditions.method == Some(stated_by)
        || (m.conditions.method == Some(Method::Ac1khz) && stated_by == Method::DcPulse);
    let grown = ohm / new.value;
    if comparable && !below(grown, WORN_RESISTANCE) {
        let worn = cell
            .digest
            .capacity
            .as_ref()
            .and_then(|c| c.usable())
            .is_some_and(|ah| below(ah / lot.cell.rated_ah, WORN_CAPACITY));
        let inputs = [("read", ohm, Unit::Ohm), ("new", new.value, Unit::Ohm), ("times", grown, Unit::Ratio)];
        let why = Phrase::words("").value(ohm, Unit::Ohm).text(" is over twice the ").value(new.value, Unit::Ohm).text(
            if worn {
                " it had when new, and less than 80 % of its capacity is left: it is worn out."
            } else {
                " it had when new: cells retire at twice. It sags and heats up under load; only for small currents."
            },
        );
        let (severity, rule, title) = if worn {
            (Stop, "stock.worn-out", "Worn out: capacity and resistance")
        } else {
            (Caution, "stock.resistance-grown", "Twice the resistance of a new cell")
        };
        found.push(Judgement::new(severity, rule, title, why).by("times = read ÷ new", &inputs));
    }
    found
}

fn self_discharge(lot: &Lot, cell: &Inspected<'_>, report: &LotReport) -> Vec<Judgement> {
    let Some(drop) = &cell.digest.drop else { return vec![] };
    if lot.cell.chemistry == Chemistry::LiFePo4 {
        return by_charge(drop).into_iter().collect();
    }
    let lost = drop.lost_a_day_v();
    let inputs = [("lost", drop.lost_v, Unit::V), ("in", drop.rest_s, Unit::S), (" per day", lost, Unit::V)];
    // Over longer rests the same loss a day is allowed as over two weeks.
    let most_v = LOSS_MAX_V * (drop.rest_s / WEEKS_S).max(1.0);
    if above(drop.lost_v, most_v) {
        let why = Phrase::words("")
            .value(drop.lost_v, Unit::V)
            .text(" lost in ")
            .value(drop.rest_s, Unit::S)
            .text("; beyond ")
            .value(LOSS_MAX_V, Unit::V)
            .text(" within two weeks a cell is scrap: it empties its group in storage, and may be shorting inside.");
        return vec![
            Judgement::new(Stop, "stock.self-discharge", "High self-discharge", why)
                .by("lost = first − last voltage of one rest", &inputs),
        ];
    }
    let apart = unlike(Kind::SelfDischargeV, &report.lost_a_day.conditions, &drop.conditions);
    if !apart.is_empty() {
        return vec![not_compared("self-discharge", &apart)];
    }
    let t = &report.lost_a_day;
    let (Some(median), Some(mad)) = (t.median_value, t.mad_value) else { return vec![] };
    let z = modified_z(lost, median, mad, LEAST_LOSS_V);
    if t.cells < FELLOWS || !above(z, OUTLIER_Z) {
        return vec![];
    }
    let why = Phrase::words("The others lose ")
        .value(median, Unit::V)
        .text(" per day, it loses ")
        .value(lost, Unit::V)
        .text(": a cell clearly beyond them is scrap, whatever its voltage.");
    vec![
        Judgement::new(Stop, "stock.self-discharge-fellows", "Self-discharge far above the others", why)
            .by(
                "z = 0.6745 × (loss per day − median) ÷ MAD",
                &[inputs[2], ("median", median, Unit::V), ("MAD", mad, Unit::V), ("z", z, Unit::Ratio)],
            )
            .from(Source::IglewiczHoaglin),
    ]
}

/// Phosphate: the plateau hides charge, so the loss is judged by the curve, in the knee or not at all.
fn by_charge(drop: &Drop) -> Option<Judgement> {
    const WEEK_S: f64 = 7.0 * 86_400.0;
    let why_not = || {
        let why = Phrase::words(
            "On the plateau of phosphate millivolts do not show the charge. Rest it full, in the knee above ",
        )
        .value(3.34, Unit::V)
        .text(", or measure the capacity left after the rest.");
        Judgement::new(Note, "stock.plateau", "Voltage does not show the self-discharge", why)
    };
    let ocv = curve(Chemistry::LiFePo4);
    let Some(from_v) = drop.from_v else { return Some(why_not()) };
    let to_v = from_v - drop.lost_v;
    let slope = |v: f64| (ocv.soc(v + 0.005) - ocv.soc(v - 0.005)).abs();
    if slope(to_v) > PLATEAU_SLOPE || slope(from_v) > PLATEAU_SLOPE {
        return Some(why_not());
    }
    let lost_share = ocv.soc(from_v) - ocv.soc(to_v);
    let a_week = lost_share / (drop.rest_s / WEEK_S);
    above(a_week, LOSS_MAX_SHARE).then(|| {
        let why = Phrase::words("")
            .value(lost_share, Unit::Share)
            .text(" of its charge in ")
            .value(drop.rest_s, Unit::S)
            .text(" by the open-circuit curve: it empties its group in storage.");
        Judgement::new(Stop, "stock.self-discharge", "High self-discharge", why)
            .by(
                "lost = SOC(first) − SOC(last)",
                &[("first", from_v, Unit::V), ("last", to_v, Unit::V), ("lost", lost_share, Unit::Share)],
            )
            .from(ocv.source)
    })
}

/// Modified z-score and median, where there are enough others.
fn outlier(value: f64, typical: &Typical, least: f64) -> Option<(f64, f64)> {
    let (median, mad) = (typical.median_value?, typical.mad_value?);
    (typical.cells >= FELLOWS).then(|| (modified_z(value, median, mad, least * median), median))
}

fn not_compared(what: &str, apart: &[&str]) -> Judgement {
    let why = Phrase::words(format!(
        "Its {what} was read with {} unlike the others: it is not compared with them.",
        apart.join(" and ")
    ));
    Judgement::new(Note, "stock.not-compared", "Not measured like the others", why)
}
