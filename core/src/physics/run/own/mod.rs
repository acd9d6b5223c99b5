//! A maker's own cell, from one or two discharges of it that were logged from full, or that its data sheet prints.
//!
//! The open-circuit curve comes out of the slower discharge itself, the losses of the resistance that was measured added back; the
//! capacity is what it delivered, with the little that was left at its end. Where a log has rests, its jumps say the resistance; a
//! second, faster discharge says resistance and diffusion. What nothing says stays as usual of the chemistry.

mod behind;
mod log;

use serde::Serialize;
use utoipa::ToSchema;

use self::behind::behind;
use self::log::Log;
use super::cell::CellModel;
use super::fit::{Logged, Piece, error_v, follow, least};
use super::typical::typical;
use crate::base::chemistry::{Chemistry, curve};
use crate::base::quantity::{Unit, show};
use crate::base::table::{LineError, whole};
use crate::plan::CurvePoint;

/// Least of the rated charge that a log must hold.
const LEAST_SHARE: f64 = 0.5;
/// The last of a discharge falls so steeply that a little charge would weigh more than all the rest.
const USED_SHARE: f64 = 0.98;
/// What a share of charge weighs against voltage where a second discharge is followed to its end.
const END_V: f64 = 0.5;
/// What the second discharge must gain for resistance or lag to be 2.7 times as large or as small. Assumed.
const HELD_V: f64 = 0.003;
/// Missed by no more than this, a log is met well; by more than that, not at all.
const WELL_V: f64 = 0.015;
const NOT_V: f64 = 0.05;
/// Voltage by which a cell may seem to be above full at its start, and be above empty at its end.
const ABOVE_FULL_V: f64 = 0.1;
const ABOVE_EMPTY_V: f64 = 0.3;
/// State of charge below which a cell was not full.
const FULL_SOC: f64 = 0.8;
/// Resistances further from what was stated than this are not one cell's.
const MOST_FACTOR: f64 = 5.0;
/// Capacity against what the slower discharge delivered: more cannot have been left in the cell.
const MOST_LEFT: f64 = 1.1;
/// A discharge faster than this share of the capacity in an hour leaves some of it unseen.
const SLOW_C: f64 = 0.3;
/// The slowest lag of diffusion among the cells that were computed (Prada 2013 in `reference/discharge`: 577 s).
const SLOWEST_LAG_S: f64 = 600.0;
/// A second discharge must be so much faster to say something new.
const FASTER: f64 = 1.5;

/// A discharge of one cell as it is told.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ToldDischarge<'a> {
    /// A table: time, current and voltage as logged, or charge and voltage as printed.
    pub text: &'a str,
    /// The current of a printed curve.
    pub current_a: Option<f64>,
}

/// A fault in one of the discharges, counted from 0.
#[derive(Debug, Clone, PartialEq)]
pub struct BadLog {
    /// Which one.
    pub log: usize,
    /// What is wrong, line by line.
    pub lines: Vec<LineError>,
}

/// A cell as its discharges say.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OwnCell {
    /// Charge from full to empty.
    pub capacity_ah: f64,
    /// DC resistance at 25 C.
    pub dcir_ohm: f64,
    /// Lag of diffusion.
    pub diffusion_s: f64,
    /// Its open-circuit curve, from empty to full.
    pub curve: Vec<CurvePoint>,
    /// Root mean square of the voltage that it still misses, in the discharge that is missed most.
    pub error_v: f64,
    /// Lines of all discharges.
    pub lines: usize,
    /// Charge in the slower one.
    pub logged_ah: f64,
    /// How good that is and what it rests on, in words.
    pub says: Vec<String>,
    /// Log and fit of the fastest one.
    pub points: Vec<OwnPoint>,
}

/// One point of a log and of its fit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OwnPoint {
    /// Since the start.
    pub t_s: f64,
    /// As logged.
    pub read_v: f64,
    /// As fitted.
    pub fitted_v: f64,
}

/// A cell of which capacity and DC resistance are roughly known, from one or two discharges at one temperature, each from full.
/// Refuses what cannot be read, and what is no discharge of such a cell.
pub fn own_cell(
    chemistry: Chemistry,
    rated_ah: f64,
    dcir_ohm: f64,
    cell_c: f64,
    discharges: &[ToldDischarge<'_>],
) -> Result<OwnCell, BadLog> {
    let mut logs: Vec<(usize, Log)> = vec![];
    for (i, told) in discharges.iter().enumerate() {
        let bad = |lines| BadLog { log: i, lines };
        let log = Log::read(told).map_err(bad)?;
        if log.charge_ah < LEAST_SHARE * rated_ah {
            let (out_ah, rated) = (show(log.charge_ah, Unit::Ah), show(rated_ah, Unit::Ah));
            return Err(bad(whole(format!(
                "the log takes {out_ah} out of a cell of {rated}: log a discharge from full to empty"
            ))));
        }
        logs.push((i, log));
    }
    logs.sort_by(|a, b| a.1.mean_a().total_cmp(&b.1.mean_a()));
    let Some(((first, slow), faster)) = logs.split_first().map(|(slow, faster)| ((slow.0, &slow.1), faster)) else {
        return Err(BadLog { log: 0, lines: whole("there is no discharge in it") });
    };
    let usual = typical(chemistry).cell(chemistry, slow.charge_ah, dcir_ohm);
    let jumped = jumped(&usual, slow, cell_c);
    let start = resisting(&usual, jumped.unwrap_or(1.0));
    let rests_on = if jumped.is_some() { RestsOn::Jumps } else { RestsOn::Stated };
    let alone = from_one(chemistry, &start, slow, rests_on, cell_c)
        .map_err(|reason| BadLog { log: first, lines: whole(reason) })?;
    let found = match faster.last() {
        Some((second, fast)) => from_both(alone, &start, slow, fast, cell_c)
            .map_err(|reason| BadLog { log: *second, lines: whole(reason) })?,
        None => alone,
    };
    let factor = found.model.r0.at(0.5) / usual.r0.at(0.5);
    if !(1.0 / MOST_FACTOR..=MOST_FACTOR).contains(&factor) {
        let (by_log, stated) = (show(dcir_ohm * factor, Unit::Ohm), show(dcir_ohm, Unit::Ohm));
        let told = format!("by the log its resistance is {by_log}; the plan says {stated}: measure it again");
        return Err(BadLog { log: first, lines: whole(told) });
    }
    let volts = follow(&found.model, &found.shown, cell_c);
    let point = |(l, v): (&Logged, &f64)| OwnPoint { t_s: l.time_s, read_v: l.voltage_v, fitted_v: *v };
    Ok(OwnCell {
        capacity_ah: found.model.capacity_ah,
        dcir_ohm: dcir_ohm * factor,
        diffusion_s: found.model.diffusion_s,
        curve: found.model.curve.points().iter().map(|&(soc, ocv_v)| CurvePoint { soc, ocv_v }).collect(),
        error_v: found.missed_v,
        lines: logs.iter().map(|(_, log)| log.lines.len()).sum(),
        logged_ah: slow.charge_ah,
        says: says(&found, slow),
        points: found.shown.lines.iter().zip(&volts).map(point).collect(),
    })
}

/// A model and how it was found.
struct Found {
    model: CellModel,
    /// The discharge that it was held against.
    shown: Piece,
    missed_v: f64,
    rests_on: RestsOn,
}

/// The cell behind one discharge, with the resistance as it is known. Refuses, in words, what is no discharge from full to empty.
fn from_one(
    chemistry: Chemistry,
    start: &CellModel,
    slow: &Log,
    rests_on: RestsOn,
    cell_c: f64,
) -> Result<Found, String> {
    let shown = Piece { soc: 1.0, lines: slow.thinned() };
    let model = behind(start, &shown.lines, cell_c)
        .ok_or_else(|| "the voltage does not fall like that of a cell being discharged".to_owned())?;
    let missed_v = missed(&model, &shown, cell_c);
    judge_ends(chemistry, &model, &shown.lines, missed_v)?;
    Ok(Found { model, shown, missed_v, rests_on })
}

/// The cell behind two discharges. Refuses, in words, a second one that says nothing new or is not of the same cell.
fn from_both(alone: Found, start: &CellModel, slow: &Log, fast: &Log, cell_c: f64) -> Result<Found, String> {
    if fast.mean_a() < FASTER * slow.mean_a() {
        let (a, b) = (show(slow.mean_a(), Unit::A), show(fast.mean_a(), Unit::A));
        return Err(format!("it is hardly faster than the other one, {b} and {a}: take one at twice the current"));
    }
    let shown = Piece { soc: 1.0, lines: fast.thinned() };
    let model = told_by_both(start, &alone.shown.lines, &shown, cell_c).unwrap_or(alone.model);
    let fast_v = missed(&model, &shown, cell_c);
    if fast_v > NOT_V {
        let by = show(fast_v, Unit::V);
        return Err(format!(
            "no single cell fits both logs: the fit is off by {by}. Was it the same cell, from full, at the same temperature?"
        ));
    }
    Ok(Found { model, shown, missed_v: alone.missed_v.max(fast_v), rests_on: RestsOn::Second })
}

/// The cell with another resistance.
fn resisting(model: &CellModel, factor: f64) -> CellModel {
    let mut model = model.clone();
    model.r0 = model.r0.times(factor);
    model.pairs.iter_mut().for_each(|p| p.ohm = p.ohm.times(factor));
    model
}

/// What the jumps of a log say of the resistance, against what is stated: the middle of them. `None` without a jump.
fn jumped(usual: &CellModel, log: &Log, cell_c: f64) -> Option<f64> {
    let rested = usual.rested(1.0, cell_c);
    let cold = usual.r0_ohm(&rested) / usual.r0.at(1.0);
    let mut charge_as = vec![0.0];
    for w in log.lines.windows(2) {
        charge_as.push(charge_as[charge_as.len() - 1] + w[1].current_a * (w[1].time_s - w[0].time_s));
    }
    let soc_at = |line: usize| 1.0 - charge_as[line] / 3600.0 / usual.capacity_ah;
    let factor = |jump: &log::Jump| {
        let (before, soc) = (soc_at(jump.line - 1), soc_at(jump.line));
        // What the curve itself fell by meanwhile is no resistance.
        let lost_v = jump.fell_v - (usual.curve.extended_v(before) - usual.curve.extended_v(soc));
        let settled = |p: &super::cell::Pair| p.ohm.at(soc) * (1.0 - (-jump.after_s / p.tau_s).exp());
        lost_v / jump.more_a / (cold * (usual.r0.at(soc) + usual.pairs.iter().map(settled).sum::<f64>()))
    };
    let mut factors: Vec<f64> = log.jumps().iter().map(factor).filter(|f| f.is_finite() && *f > 0.0).collect();
    factors.sort_by(f64::total_cmp);
    factors.get(factors.len() / 2).copied()
}

/// Resistance and lag with which the curve of the slow discharge leads through the fast one.
fn told_by_both(start: &CellModel, slow: &[Logged], fast: &Piece, cell_c: f64) -> Option<CellModel> {
    let most_ah = MOST_LEFT * start.capacity_ah;
    let at = |factors: &[f64]| {
        let mut model = resisting(start, factors[0].exp());
        model.diffusion_s *= factors[1].exp();
        behind(&model, slow, cell_c).filter(|model| model.capacity_ah < most_ah)
    };
    let best = least(2, |factors| {
        let held = factors.iter().map(|log| (HELD_V * log).powi(2)).sum::<f64>();
        let missed = at(factors).map(|model| {
            let end = END_V * (charge_share(&model, fast, cell_c) - 1.0);
            missed(&model, fast, cell_c).powi(2) + end * end
        });
        missed.unwrap_or(END_V) + held
    });
    at(&best)
}

/// Voltage that are missed before the steep end.
fn missed(model: &CellModel, piece: &Piece, cell_c: f64) -> f64 {
    let ends_s = piece.lines.last().map_or(0.0, |l| l.time_s) * USED_SHARE;
    let lines = piece.lines.iter().take_while(|l| l.time_s <= ends_s).copied().collect();
    error_v(model, &[Piece { soc: piece.soc, lines }], cell_c)
}

/// The time until the model is at the last voltage of a discharge, against that of the discharge.
fn charge_share(model: &CellModel, piece: &Piece, cell_c: f64) -> f64 {
    /// How far beyond the end is looked, in steps of a share of the whole.
    const BEYOND: u32 = 100;
    const STEP: f64 = 0.002;
    let Some(last) = piece.lines.last().copied() else { return 1.0 };
    let beyond = (1..=BEYOND).map(|k| Logged { time_s: last.time_s * (1.0 + STEP * f64::from(k)), ..last });
    let longer = Piece { soc: piece.soc, lines: piece.lines.iter().copied().chain(beyond).collect() };
    let volts = follow(model, &longer, cell_c);
    // A pause recovers: what counts is the last time that it was above.
    let above = volts.iter().rposition(|v| *v >= last.voltage_v);
    let end_s = above.map_or(0.0, |i| {
        let (a, Some(b)) = (i, volts.get(i + 1)) else { return longer.lines[i].time_s };
        let share = (volts[a] - last.voltage_v) / (volts[a] - b);
        longer.lines[a].time_s + share * (longer.lines[a + 1].time_s - longer.lines[a].time_s)
    });
    end_s / last.time_s
}

/// Whether a discharge went from full to empty, and fell on its way.
fn judge_ends(chemistry: Chemistry, model: &CellModel, lines: &[Logged], missed_v: f64) -> Result<(), String> {
    let facts = chemistry.facts();
    let (full_v, ends_v) = (model.curve.ocv_v(1.0), lines.last().map_or(0.0, |l| l.voltage_v));
    if missed_v > NOT_V {
        let by = show(missed_v, Unit::V);
        return Err(format!(
            "the voltage goes up and down by {by}; in a discharge it only falls. Are all lines from one cell, in order?"
        ));
    }
    if full_v > facts.full_v + ABOVE_FULL_V {
        let rests = show(full_v, Unit::V);
        return Err(format!(
            "with the stated resistance the cell would have rested at {rests}, above a full {} cell: measure the resistance again",
            facts.name
        ));
    }
    let least_full_v = curve(chemistry).ocv_v(FULL_SOC);
    if full_v < least_full_v - ABOVE_FULL_V / 2.0 {
        let (rests, full) = (show(full_v, Unit::V), show(facts.full_v, Unit::V));
        return Err(format!("it began at {rests}, not full: charge the cell to {full} first"));
    }
    if ends_v > facts.cutoff_v + ABOVE_EMPTY_V {
        let (ends, empty) = (show(ends_v, Unit::V), show(facts.cutoff_v, Unit::V));
        return Err(format!("it ends at {ends}, not empty: keep logging down to {empty}"));
    }
    Ok(())
}

/// What the resistance rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum RestsOn {
    Stated,
    Jumps,
    Second,
}

fn says(found: &Found, slow: &Log) -> Vec<String> {
    let by = show(found.missed_v, Unit::V);
    let met = match (found.missed_v <= WELL_V, found.rests_on) {
        (true, RestsOn::Second) => format!("Good: the fit is within {by} of both logs."),
        (true, _) => format!("Good: the fit is within {by} of the log."),
        (false, _) => format!("Fair: the fit is off by {by}. A cleaner log would help."),
    };
    let rests = match found.rests_on {
        RestsOn::Stated => {
            "The resistance is the one in the plan. A log with a rest in it, or a second, faster discharge, would measure it."
        }
        RestsOn::Jumps => {
            "The resistance comes from the voltage jumps in the log. A second, faster discharge would show diffusion too."
        }
        RestsOn::Second => "Resistance and diffusion come from the faster discharge.",
    };
    let mut says = vec![met, rests.to_owned()];
    let capacity_ah = found.model.capacity_ah;
    if found.rests_on == RestsOn::Second {
        return says;
    }
    let hidden_ah = (SLOWEST_LAG_S - found.model.diffusion_s).max(0.0) * slow.mean_a() / 3600.0;
    says.push(format!(
        "One log cannot tell slow diffusion from a smaller cell: the capacity may be up to {} more. A second, faster discharge would tell.",
        show(hidden_ah, Unit::Ah)
    ));
    if slow.mean_a() > SLOW_C * capacity_ah {
        let left = (1.0 - slow.charge_ah / capacity_ah).max(0.0);
        says.push(format!(
            "This is a fast log: the last {} of the capacity is calculated, not measured. A 5-hour discharge would measure it.",
            show(left, Unit::Share)
        ));
    }
    says
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::chemistry::OcvCurve;

    const LIMIT_V: f64 = 2.5;

    /// What a cell shows at the currents of a pattern that begins again every 600 s, until it is empty.
    fn logged(cell: &CellModel, current: impl Fn(u32) -> f64) -> String {
        let lines =
            (0..9000).map(|k| Logged { time_s: f64::from(k) * 5.0, current_a: current(k % 120), voltage_v: 0.0 });
        let lines: Vec<Logged> = lines.collect();
        let volts = follow(cell, &Piece { soc: 1.0, lines: lines.clone() }, 25.0);
        let mut text = "Test Time / s,Voltage / V,Current / A\n".to_owned();
        for (line, v) in lines.iter().zip(volts).take_while(|(_, v)| *v > LIMIT_V) {
            // In the sign of the Battery Data Format.
            text += &format!("{},{v:.4},{}\n", line.time_s, -line.current_a);
        }
        text
    }

    fn told(text: &str) -> ToldDischarge<'_> {
        ToldDischarge { text, current_a: None }
    }

    fn cell() -> CellModel {
        typical(Chemistry::LiIon).cell(Chemistry::LiIon, 2.31, 0.061)
    }

    #[test]
    fn a_steady_log_gives_back_the_cell_whose_resistance_is_known() {
        let text = logged(&cell(), |_| 1.15);
        let own = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[told(&text)]).unwrap();
        assert!((own.capacity_ah / 2.31 - 1.0).abs() < 0.01, "{}", own.capacity_ah);
        assert!(own.dcir_ohm == 0.061 && own.error_v < 0.003, "{} {}", own.dcir_ohm, own.error_v);
        assert!(own.says[0].starts_with("Good") && own.says[1].contains("in the plan"), "{:?}", own.says);
        assert!(curve_missed(&own) < 0.02, "{}", curve_missed(&own));
    }

    /// Voltage by which an own curve misses the one it was made with, at the worst tenth.
    fn curve_missed(own: &OwnCell) -> f64 {
        let found = OcvCurve::through(own.curve.iter().map(|p| (p.soc, p.ocv_v)).collect()).unwrap();
        let tenths = (1..=9).map(|tenth| f64::from(tenth) / 10.0);
        tenths.map(|soc| (found.ocv_v(soc) - curve(Chemistry::LiIon).ocv_v(soc)).abs()).fold(0.0, f64::max)
    }

    #[test]
    fn rests_in_a_log_measure_the_resistance() {
        let text = logged(&cell(), |k| if k < 100 { 1.15 } else { 0.0 });
        let own = own_cell(Chemistry::LiIon, 2.5, 0.035, 25.0, &[told(&text)]).unwrap();
        assert!((own.dcir_ohm / 0.061 - 1.0).abs() < 0.05, "{}", own.dcir_ohm);
        assert!((own.capacity_ah / 2.31 - 1.0).abs() < 0.01, "{}", own.capacity_ah);
        assert!(own.says[1].contains("jumps"), "{:?}", own.says);
    }

    #[test]
    fn a_second_discharge_measures_resistance_and_lag() {
        let known = CellModel { diffusion_s: 140.0, ..cell() };
        let texts = [logged(&known, |_| 2.31), logged(&known, |_| 0.46)];
        // In either order; the slower one gives the curve.
        let own = own_cell(Chemistry::LiIon, 2.5, 0.035, 25.0, &[told(&texts[0]), told(&texts[1])]).unwrap();
        assert!((own.dcir_ohm / 0.061 - 1.0).abs() < 0.1, "{}", own.dcir_ohm);
        assert!((own.diffusion_s / 140.0 - 1.0).abs() < 0.3, "{}", own.diffusion_s);
        assert!((own.capacity_ah / 2.31 - 1.0).abs() < 0.01, "{}", own.capacity_ah);
    }

    /// With the curve read out of the log itself, charge that slow diffusion keeps back and charge that was never there are the
    /// same log: what one steady discharge leaves open is said, and a second one closes it.
    #[test]
    fn one_steady_log_cannot_tell_slow_diffusion_from_a_smaller_cell() {
        let slow_s = 560.0;
        let sluggish = CellModel { diffusion_s: slow_s, ..cell() };
        let text = logged(&sluggish, |_| 0.46);
        let alone = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[told(&text)]).unwrap();
        // The log is met to a meter's last digit by a cell that is as much smaller as the lag keeps back.
        assert!(alone.error_v < 0.005, "{}", alone.error_v);
        let kept_ah = 0.46 * (slow_s - alone.diffusion_s) / 3600.0;
        assert!((alone.capacity_ah + kept_ah - 2.31).abs() < 0.01 * 2.31, "{} and {kept_ah}", alone.capacity_ah);
        assert!(alone.says.iter().any(|s| s.contains("0.0675 Ah more")), "{:?}", alone.says);
        let faster = logged(&sluggish, |_| 1.15);
        let both = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[told(&text), told(&faster)]).unwrap();
        assert!((both.capacity_ah / 2.31 - 1.0).abs() < 0.01, "{}", both.capacity_ah);
        assert!(!both.says.iter().any(|s| s.contains("One log")), "{:?}", both.says);
    }

    /// The curve that a data sheet prints is the log without times.
    #[test]
    fn a_printed_curve_is_a_log() {
        let text = logged(&cell(), |_| 1.15);
        let rows = text.lines().skip(1).map(|l| l.split(',').map(|n| n.parse::<f64>().unwrap()).collect::<Vec<_>>());
        let lines: String = rows.map(|r| format!("{:.4};{:.4}\n", r[0] * 1.15 / 3.6, r[1])).collect();
        let printed = format!("capacity_mah;voltage_v\n{lines}");
        let told = ToldDischarge { text: &printed, current_a: Some(1.15) };
        let own = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[told]).unwrap();
        assert!((own.capacity_ah / 2.31 - 1.0).abs() < 0.01, "{}", own.capacity_ah);
        let without = ToldDischarge { current_a: None, ..told };
        let refused = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[without]).unwrap_err();
        assert!(refused.lines.iter().any(|l| l.reason.contains("Test Time / s")), "{refused:?}");
    }

    #[test]
    fn a_bad_log_tells_every_bad_line() {
        let refused = |text: &str| own_cell(Chemistry::LiIon, 2.5, 0.035, 25.0, &[told(text)]).unwrap_err().lines;
        assert!(refused("time_s,current_a\n0,1\n")[0].reason.contains("Voltage / V"));
        let bad = refused("time_s,current_a,voltage_v\n0,1,4.1\n10,1,41\n5,1,4.0\nx,1,4\n");
        assert_eq!(bad.iter().map(|e| e.line).collect::<Vec<_>>(), [3, 5], "{bad:?}");
        let short: String = (0..20).map(|k| format!("{},1,4.0\n", k * 10)).collect();
        assert!(refused(&format!("time_s,current_a,voltage_v\n{short}"))[0].reason.contains("from full to empty"));
    }

    #[test]
    fn what_is_no_discharge_of_such_a_cell_is_refused_with_the_reason() {
        let text = logged(&cell(), |_| 1.15);
        let lines = |text: &str, keep: &dyn Fn(usize, &str) -> Option<String>| -> String {
            text.lines()
                .enumerate()
                .filter_map(|(i, l)| if i == 0 { Some(l.to_owned()) } else { keep(i, l) })
                .map(|l| l + "\n")
                .collect()
        };
        let count = text.lines().count();
        let shifted = |l: &str, by: f64| {
            let n: Vec<f64> = l.split(',').map(|n| n.parse().unwrap()).collect();
            Some(format!("{},{:.4},{}", n[0], n[1] + by, n[2]))
        };
        let half_way = lines(&text, &|i, l| (i < count * 6 / 10).then(|| l.to_owned()));
        let begun_late = lines(&text, &|i, l| (i > count * 4 / 10).then(|| l.to_owned()));
        let wobbling = lines(&text, &|i, l| shifted(l, if i / 60 % 2 == 0 { 0.15 } else { -0.15 }));
        for (text, ohm, reason) in [
            (&half_way, 0.061, "not empty"),
            (&begun_late, 0.061, "not full"),
            (&wobbling, 0.061, "up and down"),
            (&text, 0.5, "measure the resistance again"),
        ] {
            let refused = own_cell(Chemistry::LiIon, 2.5, ohm, 25.0, &[told(text)]).unwrap_err();
            assert!(refused.lines[0].reason.contains(reason), "{reason}: {refused:?}");
        }
        // Another cell, and one that is no faster.
        let other = CellModel { capacity_ah: 1.6, ..cell() };
        let faster = logged(&other, |_| 2.3);
        let refused = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[told(&text), told(&faster)]).unwrap_err();
        assert!(refused.log == 1 && refused.lines[0].reason.contains("no single cell"), "{refused:?}");
        let refused = own_cell(Chemistry::LiIon, 2.5, 0.061, 25.0, &[told(&text), told(&text)]).unwrap_err();
        assert!(refused.lines[0].reason.contains("hardly faster"), "{refused:?}");
    }
}
