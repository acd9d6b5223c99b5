//! What the errors of the readings leave open: a band on every figure that rests on one, and the verdicts that hang
//! on one.
//!
//! Each reading in turn is moved to both ends of its error and the plan assessed again: the sensitivities of JCGM
//! 100:2008, 5.1.3, found numerically, so that no formula needs a second one for its error. The widths of several
//! readings are added, not squared: a manual's figures are limits, and the errors of one meter go the same way
//! (5.2.2, note 1: fully correlated errors add).

use super::Pass;
use super::figures::run::USABLE;
use super::finding::{Finding, Severity};
use super::findings;
use super::stage::Stage;
use crate::assess::rule::{self, Rule};
use crate::base::limit::above;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::base::source::Source;
use crate::plan::Plan;

/// The rule that tells of a verdict within an error.
const RULE: Rule = rule::device::ERROR_DECIDES;
/// A reading never falls to nothing within its error: its sign is known.
const LEAST_SHARE: f64 = 1e-3;
/// Its own rules read its band: `voltage.full-in-tolerance`.
const JUDGED_BY_RULE: &str = "device.highest_v";

/// A reading with an error, as it stands in the plan.
struct Doubt {
    place: usize,
    id: String,
    name: String,
    unit: Unit,
    value: f64,
    error: f64,
}

/// Widens the figures of a pass, and adds the verdicts that a reading's error decides.
pub fn spread(pass: &mut Pass<'_>) {
    let doubts = doubts(&mut pass.workspace.plan.clone());
    let mut widths = vec![(0.0, 0.0); pass.workspace.ledger.figures().len()];
    let mut hanging = vec![];
    for doubt in &doubts {
        let ends = [-1.0, 1.0].map(|side| moved(pass.workspace.plan, doubt, side));
        let ends: Vec<Pass<'_>> =
            ends.iter().filter_map(|plan| Pass::to_compare(plan, pass.workspace.sharing.clone()).ok()).collect();
        for (width, figure) in widths.iter_mut().zip(pass.workspace.ledger.figures()) {
            let (low, high) = figure.ends();
            let there = ends.iter().filter_map(|end| end.workspace.ledger.get(&figure.id)).map(|f| f.ends());
            let (down, up) = there.fold((0.0_f64, 0.0_f64), |(d, u), (l, h)| (d.max(low - l), u.max(h - high)));
            *width = (width.0 + down, width.1 + up);
        }
        if doubt.id != JUDGED_BY_RULE {
            hanging.extend(verdict(&pass.findings, &ends, doubt));
        }
    }
    for (place, (down, up)) in widths.into_iter().enumerate() {
        let figure = &pass.workspace.ledger.figures()[place];
        let (low, high) = figure.ends();
        let most = if figure.id == USABLE.id { 1.0 } else { f64::INFINITY };
        let least = if figure.value >= 0.0 { 0.0_f64.min(low) } else { f64::NEG_INFINITY };
        let noise = figure.value.abs() * 1e-12;
        if down > noise || up > noise {
            pass.workspace.ledger.widen(place, (low - down).max(least), (high + up).min(most));
        }
    }
    if !hanging.is_empty() {
        pass.findings.extend(hanging);
        findings::sort(&pass.workspace, &mut pass.findings);
    }
}

fn doubts(plan: &mut Plan) -> Vec<Doubt> {
    let readings = plan.readings().into_iter().enumerate();
    let doubt = readings.filter_map(|(place, r)| {
        let error = r.known.error.filter(|e| *e > 0.0)?;
        Some(Doubt { place, id: r.id, name: r.name, unit: r.unit, value: r.known.value, error })
    });
    doubt.collect()
}

/// The plan with one reading at the end of its error, and without that error.
fn moved(plan: &Plan, doubt: &Doubt, side: f64) -> Plan {
    let mut plan = plan.clone();
    if let Some(reading) = plan.readings().into_iter().nth(doubt.place) {
        reading.known.value = (doubt.value + side * doubt.error).max(doubt.value * LEAST_SHARE);
        reading.known.error = None;
    }
    plan
}

/// Says which stops and cautions come or go within the error.
fn verdict(found: &[Finding], ends: &[Pass<'_>], doubt: &Doubt) -> Option<Finding> {
    let weighs = |f: &&Finding| f.severity >= Severity::Caution;
    let has = |all: &[Finding], key: &str| all.iter().filter(weighs).any(|f| f.key == key);
    let mut come: Vec<&Finding> = vec![];
    for finding in ends.iter().flat_map(|end| end.findings.iter()).filter(weighs) {
        if !has(found, &finding.key) && come.iter().all(|f| f.key != finding.key) {
            come.push(finding);
        }
    }
    let go: Vec<&Finding> =
        found.iter().filter(weighs).filter(|f| ends.iter().any(|end| !has(&end.findings, &f.key))).collect();
    if come.is_empty() && go.is_empty() {
        return None;
    }
    let stops = come.iter().any(|f| f.severity == Severity::Stop);
    let value = Phrase::words(format!("“{}” is ", doubt.name)).value(doubt.value, doubt.unit).text(" ± ");
    let mut why = value.value(doubt.error, doubt.unit).text(". Within that");
    for (which, says) in [(&come, "may come"), (&go, "may go away")] {
        if !which.is_empty() {
            let titles: Vec<String> = which.iter().map(|f| format!("“{}”", f.title.text)).collect();
            why = why.text(format!(" {} {says};", titles.join(", ")));
        }
    }
    let many = above(doubt.error, 0.5 * doubt.value.abs());
    let why = why.text(if many {
        " an error of over half the reading says almost nothing: measure it another way."
    } else {
        " a finer range or another method settles it."
    });
    Some(Finding {
        follows: None,
        key: format!("{}@{}", RULE.id(), doubt.id),
        rule: RULE,
        severity: if stops { Severity::Caution } else { Severity::Note },
        stage: Stage::of_rule(RULE.id()),
        title: Phrase::words("Reading error decides a verdict"),
        why,
        source: Source::Jcgm100,
        deciding: None,
        accepted: None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::assess::{assess, assess_at_face_value};
    use crate::plan::{Draw, Known, Load};

    fn with_error(value: f64, error: f64) -> Known {
        Known { error: Some(error), ..Known::measured(value) }
    }

    /// A device that asks watts and switches itself off, so that the current is a quotient of two readings.
    fn plan(power: Known, lowest: Known) -> Plan {
        let mut plan = Plan::blank("Lamp mast");
        plan.packs[0].chemistry = Some(crate::base::chemistry::Chemistry::LiIon);
        // So many that the device ends the run, not the cells.
        plan.packs[0].series = Some((lowest.value / 3.3).round() as u32);
        plan.device.cutout_v = Some(lowest);
        plan.device.loads = vec![Load {
            id: "on".to_owned(),
            name: "on".to_owned(),
            draw: Draw::Power { value_w: power },
            duration_s: None,
            every_s: None,
        }];
        plan
    }

    fn ends(plan: &Plan, id: &str) -> (f64, f64, f64) {
        let assessment = assess(plan).unwrap();
        let figure = assessment.figure(id).unwrap_or_else(|| panic!("{id} is missing"));
        let (low, high) = figure.ends();
        (low, figure.value, high)
    }

    /// Worked by hand: 36.0 W ± 0.6 W at 10.0 V ± 0.1 V is 3.6 A; the readings' own ends are 35.4 / 10 = 3.54 and
    /// 36.6 / 10 = 3.66; 36 / 10.1 = 3.5644 and 36 / 9.9 = 3.6364; the distances add.
    #[test]
    fn the_errors_of_two_readings_widen_their_quotient_and_add() {
        let (low, value, high) = ends(&plan(with_error(36.0, 0.6), with_error(10.0, 0.1)), "load.usual_a");
        assert!((value - 3.6).abs() < 1e-9, "{value}");
        assert!((low - (3.6 - 0.06 - (3.6 - 36.0 / 10.1))).abs() < 1e-9, "{low}");
        assert!((high - (3.6 + 0.06 + (36.0 / 9.9 - 3.6))).abs() < 1e-9, "{high}");
    }

    /// JCGM 100:2008, H.2: Z = V / I with V = 4.9990 V, u = 0.0032 V, I = 19.6610 mA, u = 0.0095 mA, correlated by
    /// -0.36, is 254.26 ohm with u = 0.236 ohm (values from memory). Added in full the same readings leave
    /// (0.0032 / 4.9990 + 0.0095 / 19.6610) x 254.26 = 0.2856 ohm open: never less than the guide's.
    #[test]
    fn a_quotient_is_no_narrower_than_the_guide_to_uncertainty_makes_it() {
        // As amperes from watts and volts, the same quotient: scaled by 1000 to stand within the fields' ranges.
        let doubtful = plan(with_error(4.9990, 0.0032), with_error(19.6610, 0.0095));
        let (low, value, high) = ends(&doubtful, "load.usual_a");
        assert!((value * 1000.0 - 254.260).abs() < 5e-3, "{value}");
        let half = (high - low) / 2.0 * 1000.0;
        assert!((half - 0.2856).abs() < 2e-4, "{half}");
        assert!(half > 0.236);
    }

    #[test]
    fn a_figure_that_rests_on_no_error_has_no_band_from_one() {
        let exact = plan(Known::measured(36.0), Known::measured(10.0));
        assert_eq!(assess(&exact).unwrap(), assess_at_face_value(&exact).unwrap());
        let doubtful = plan(with_error(36.0, 0.6), Known::measured(10.0));
        let assessment = assess(&doubtful).unwrap();
        assert_eq!(assessment.figure("pack.full_v").unwrap().low, None);
        assert_eq!(assessment.figure("device.cutout_v").unwrap().low, None);
    }
}
