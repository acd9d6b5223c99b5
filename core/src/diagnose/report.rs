//! The diagnosis of a plan and its readings.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use super::faults::{Charging, CircuitFault, FaultKind, Variant, variants};
use super::judge::{Hypothesis, Level, networks, probabilities};
use super::next::choose;
use super::points::{At, Points, Taken};
use super::symptoms::Symptom;
use super::told::{cure, says};
use crate::assess::figures::charging::CHARGER_A;
use crate::assess::{Workspace, at_workspace};
use crate::base::chemistry::curve;
use crate::physics::meters::{USUAL, judge};
use crate::plan::{FieldError, HostCircuit, Meter, NodeKind, Plan, Reads};
use crate::print::diagram::{Condition, Held, Shown, changed};

/// Causes that are told; others are less likely still.
const TOLD: usize = 12;
/// Sure enough to stop.
const SURE: f64 = 0.97;
/// With less than this, groups that were read may have moved since.
const READ_APART_V: f64 = 0.03;
/// A charger near its end still has wires.
const LEAST_CHARGER_OHM: f64 = 0.1;
/// Most readings that are weighed.
pub(super) const MOST_READINGS: usize = 60;

/// A cause with how well it fits.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Cause {
    /// What is wrong.
    pub fault: FaultKind,
    /// Which group or pin.
    pub at: Option<usize>,
    /// Probability after the readings.
    pub probability: f64,
    /// In words.
    pub says: String,
    /// What to do about it.
    pub cure: String,
}

/// The next reading to take.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct NextReading {
    /// Where the red probe goes.
    pub red: String,
    /// Where the black probe goes.
    pub black: String,
    /// What the device does meanwhile.
    pub condition: At,
}

/// What explains the readings.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Diagnosis {
    /// Causes, the likeliest first.
    pub hypotheses: Vec<Cause>,
    /// The reading that tells most; absent where no other would tell anything.
    pub next: Option<NextReading>,
    /// Whether anything that is known reads like that.
    pub fits: bool,
    /// The outcome in a sentence.
    pub says: String,
}

/// Diagnoses a plan from readings, in the order in which they were taken, and from what is seen.
///
/// Refuses a plan that cannot stand or has no circuit yet, points that it does not have, and volts that no bench shows.
pub fn diagnose(plan: &Plan, taken: &[Taken], seen: &[Symptom]) -> Result<Diagnosis, Vec<FieldError>> {
    plan.check()?;
    at_workspace(plan, |workspace| diagnosed(workspace, taken, seen))?
}

fn diagnosed(workspace: &Workspace<'_>, taken: &[Taken], seen: &[Symptom]) -> Result<Diagnosis, Vec<FieldError>> {
    let undecided = || {
        let message = "choose the chemistry and how many cells stand in series first".to_owned();
        vec![FieldError { field: "/packs/0/series".to_owned(), message }]
    };
    if taken.len() > MOST_READINGS {
        let message = format!("at most {MOST_READINGS} readings");
        return Err(vec![FieldError { field: "/readings".to_owned(), message }]);
    }
    let read = !workspace.pack.group_v.is_empty();
    let held = if read { Held::Read } else { Held::Half };
    let level = level(workspace).ok_or_else(undecided)?;
    let charger = charging(workspace, &level);
    let circuit = |variant: Option<&Variant>, condition: Condition| {
        let charger = charger.filter(|_| condition == Condition::Charging);
        let shown = Shown { condition, held, in_series: None };
        changed(
            workspace,
            shown,
            |wired| variant.into_iter().for_each(|v| v.before(wired)),
            |wired| variant.into_iter().for_each(|v| v.after(wired, charger)),
        )
    };
    let sound = circuit(None, Condition::Off).ok_or_else(undecided)?;
    let has_plug = [NodeKind::Board, NodeKind::Alarm].iter().any(|kind| workspace.plan.module(*kind).is_some())
        || workspace.charges().is_some_and(|c| c.balance_a.is_some());
    let points = Points::of(&sound, has_plug);
    let errors: Vec<FieldError> = taken.iter().enumerate().flat_map(|(i, t)| points.check(i, t)).collect();
    if !errors.is_empty() {
        return Err(errors);
    }
    let error_v = |v: f64| meter_error_v(&workspace.plan.meters, v);
    let mut all: Vec<Hypothesis> = variants(&sound, has_plug, workspace.pack.parallel.unwrap_or(1))
        .into_iter()
        .map(|variant| {
            let wired = At::ALL.map(|at| circuit(Some(&variant), at.condition()));
            Hypothesis::new(variant, networks(wired, &points, &variant))
        })
        .collect();
    for h in &mut all {
        h.weight += seen.iter().map(|symptom| symptom.ratio(h.variant.fault.kind).ln()).sum::<f64>();
    }
    for reading in taken {
        let error = error_v(reading.volts);
        all.iter_mut().for_each(|h| h.take(reading, &level, error));
    }
    Ok(report(&all, &points, taken, &level, &error_v))
}

fn report(
    all: &[Hypothesis],
    points: &Points,
    taken: &[Taken],
    level: &Level,
    error_v: &dyn Fn(f64) -> f64,
) -> Diagnosis {
    let mut by_fault: BTreeMap<CircuitFault, f64> = BTreeMap::new();
    for (h, p) in all.iter().zip(probabilities(all)) {
        *by_fault.entry(h.variant.fault).or_default() += p;
    }
    let mut ranked: Vec<(CircuitFault, f64)> = by_fault.into_iter().collect();
    ranked.sort_by(|a, b| b.1.total_cmp(&a.1));
    let fits = ranked.first().is_none_or(|(fault, _)| fault.kind != FaultKind::Other);
    let sure = ranked.first().is_some_and(|(_, p)| *p > SURE);
    let candidates = points.candidates();
    let next = if sure { None } else { choose(all, &candidates, taken, level, error_v) };
    let hypotheses: Vec<Cause> = ranked
        .iter()
        .take(TOLD)
        .map(|(fault, probability)| Cause {
            fault: fault.kind,
            at: fault.at,
            probability: *probability,
            says: says(*fault),
            cure: cure(fault.kind).to_owned(),
        })
        .collect();
    let next = next.map(|(red, black, at)| NextReading { red: red.clone(), black: black.clone(), condition: *at });
    Diagnosis { says: outcome(&hypotheses, next.is_some(), fits), hypotheses, next, fits }
}

fn outcome(hypotheses: &[Cause], more: bool, fits: bool) -> String {
    if !fits {
        return "Nothing that is known reads like that: read the points again, and look whether it is wired as planned."
            .to_owned();
    }
    match hypotheses {
        [first, ..] if first.probability > SURE => first.says.clone(),
        [first, second, ..] if !more => format!(
            "{} Or: {} A hand meter cannot tell them apart; a load of known current, or a meter that shows millivolts, would.",
            first.says, second.says
        ),
        [first, ..] => format!("Most likely so far: {}", first.says),
        [] => String::new(),
    }
}

/// The plan's charger at work; none where the device's own circuit charges, or its current is not known.
fn charging(workspace: &Workspace<'_>, level: &Level) -> Option<Charging> {
    let charges = workspace.charges().filter(|_| workspace.plan.charging.host != Some(HostCircuit::ChargesPack))?;
    let (end_v, charge_a) = (charges.output_v.value, workspace.ledger.value(&CHARGER_A)?);
    let pack_v: f64 = level.group_v.iter().sum();
    Some(Charging { end_v, ohm: ((end_v - pack_v) / charge_a).max(LEAST_CHARGER_OHM) })
}

/// What is known of the groups: as they were read, or anything from empty to full.
fn level(workspace: &Workspace<'_>) -> Option<Level> {
    let series = workspace.pack.series? as usize;
    let read = &workspace.pack.group_v;
    if read.len() == series {
        return Some(Level { group_v: read.iter().map(|k| k.value).collect(), together_v: READ_APART_V });
    }
    let ocv = curve(workspace.pack.chemistry?);
    let facts = workspace.facts()?;
    let low_v = ocv.ocv_v(0.05);
    let spread_v = (facts.full_v - low_v) / 4.0;
    Some(Level { group_v: vec![(facts.full_v + low_v) / 2.0; series], together_v: spread_v })
}

/// The error of the meter at hand that shows it most finely; an ordinary hand meter where none is listed.
fn meter_error_v(meters: &[Meter], v: f64) -> f64 {
    let unit = Reads::Volts.unit();
    let listed = meters.iter().filter_map(|m| judge(m, v, unit).ok()).map(|j| j.error).reduce(f64::min);
    listed.unwrap_or_else(|| {
        let usual = USUAL.iter().find(|u| u.reads == Reads::Volts).copied().unwrap_or(USUAL[0]);
        usual.error_share * v.abs() + usual.error_steps * usual.step
    })
}
