//! The diagnosis of a plan and its readings.

use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::asked::given;
use super::faults::{Charging, CircuitFault, Variant, variants};
use super::judge::{Hypothesis, Level, probabilities};
use super::kind::FaultKind;
use super::network::Network;
use super::next::{ask, choose};
use super::place::{FaultPlace, place};
use super::points::{At, PointName, Points, Taken};
use super::questions::{Answered, OddQuestion};
use super::stories::Setting;
use super::symptoms::Symptom;
use super::told::{anywhere, cure, elsewhere, harmed, proof, says, tool};
use crate::assess::figures::charging::CHARGER_A;
use crate::assess::{Finding, Workspace, at_findings};
use crate::base::chemistry::curve;
use crate::physics::meters::{USUAL, judge};
use crate::plan::{FieldError, HostCircuit, Meter, NodeKind, Plan, Reads};
use crate::print::diagram::wired::Wired;
use crate::print::diagram::{Held, Shown, changed};

/// Causes that are told; others are less likely still.
const TOLD: usize = 40;
/// Sure enough to stop.
const SURE: f64 = 0.97;
/// Likely enough to be named before it is sure.
const LIKELY: f64 = 0.35;
/// With less than this, groups that were read may have moved since.
const READ_APART_V: f64 = 0.03;
/// A charger near its end still has wires.
const LEAST_CHARGER_OHM: f64 = 0.1;
/// Most readings that are weighed.
pub(super) const MOST_READINGS: usize = 60;

/// What moves a working point, in a condition.
type Moved = (Option<(CircuitFault, u64)>, At);

/// A reason is told as the cause itself once it is this sure.
const REASON_SURE: f64 = 0.6;

/// What is known of something that is odd.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Evidence {
    /// Readings, in the order in which they were taken.
    pub readings: Vec<Taken>,
    /// What is seen.
    pub seen: Vec<Symptom>,
    /// Answers to questions.
    pub answers: Vec<Answered>,
}

/// A cause with how well it fits.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Cause {
    /// What is wrong.
    pub fault: FaultKind,
    /// Which group or pin.
    pub at: Option<usize>,
    /// Probability after all that is known.
    pub probability: f64,
    /// In words.
    pub says: String,
    /// How to prove it.
    pub proof: &'static str,
    /// What to do about it.
    pub cure: &'static str,
    /// What may have been harmed meanwhile; empty where nothing is.
    pub harmed: &'static str,
    /// Why it is so, where several reasons read alike, the likeliest first.
    pub reasons: Vec<FaultReason>,
    /// Where it is, in the diagram.
    pub place: FaultPlace,
}

/// One of several reasons that no voltage tells apart.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FaultReason {
    /// The reason.
    pub fault: FaultKind,
    /// Its probability, if the cause is the one.
    pub probability: f64,
    /// In words.
    pub says: String,
}

/// A line of the list of causes: one, or several of a kind that stand alike.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CauseLine {
    /// In words.
    pub says: String,
    /// Probability of all of them.
    pub probability: f64,
    /// The likeliest of them, by its place among the causes.
    pub cause: usize,
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
    /// What to do before the probes touch anything.
    pub how: &'static str,
}

/// What explains the evidence.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Diagnosis {
    /// Causes, the likeliest first.
    pub hypotheses: Vec<Cause>,
    /// The same as a list to be read, the likeliest first: what may be in any of several places stands once.
    pub lines: Vec<CauseLine>,
    /// The reading that tells most; absent where no other would tell anything, or where none may be taken.
    pub next: Option<NextReading>,
    /// The question that tells most; absent where none would tell anything.
    pub ask: Option<&'static OddQuestion>,
    /// Whether the question tells more for its trouble than the reading.
    pub ask_first: bool,
    /// Whether one cause is sure enough to stop.
    pub sure: bool,
    /// Whether anything that is known reads like that.
    pub fits: bool,
    /// The outcome in a sentence.
    pub says: String,
    /// Every point that a probe may be held to.
    pub points: Vec<PointName>,
}

/// Diagnoses a plan from what was read, seen and answered.
///
/// Refuses a plan that cannot stand or has no circuit yet, points that it does not have, voltage that no bench shows, and answers to
/// what is not asked.
pub fn diagnose(plan: &Plan, evidence: &Evidence) -> Result<Diagnosis, Vec<FieldError>> {
    plan.check()?;
    at_findings(plan, |workspace, findings| diagnosed(workspace, findings, evidence))?
}

fn diagnosed(
    workspace: &Workspace<'_>,
    findings: &[Finding],
    evidence: &Evidence,
) -> Result<Diagnosis, Vec<FieldError>> {
    let Evidence { readings, seen, answers } = evidence;
    let undecided = || {
        let message = "choose the chemistry and how many cells stand in series first".to_owned();
        vec![FieldError { field: "/packs/0/series".to_owned(), message }]
    };
    if readings.len() > MOST_READINGS {
        let message = format!("at most {MOST_READINGS} readings");
        return Err(vec![FieldError { field: "/readings".to_owned(), message }]);
    }
    let read = !workspace.pack.group_v.is_empty();
    let held = if read { Held::Read } else { Held::Half };
    let level = level(workspace).ok_or_else(undecided)?;
    let charger = charging(workspace, &level);
    let settled = |variant: Option<&Variant>, at: At| {
        let shown = Shown { condition: at.condition(), held, in_series: None };
        changed(workspace, shown, |wired| variant.into_iter().for_each(|v| v.before(wired)))
    };
    let sound = settled(None, At::Rest).ok_or_else(undecided)?;
    let has_plug = [NodeKind::Board, NodeKind::Alarm].iter().any(|kind| workspace.plan.module(*kind).is_some())
        || workspace.charges().is_some_and(|c| c.balance_a.is_some());
    let points = Points::of(&sound, has_plug);
    let mut errors: Vec<FieldError> = readings.iter().enumerate().flat_map(|(i, t)| points.check(i, t)).collect();
    let answered = given(answers).unwrap_or_else(|refused| {
        errors.extend(refused);
        vec![]
    });
    if !errors.is_empty() {
        return Err(errors);
    }
    let error_v = |v: f64| meter_error_v(&workspace.plan.meters, v);
    let setting = Setting::of(workspace, findings, !seen.is_empty());
    let told = |kind: FaultKind| {
        let seen: f64 = seen.iter().map(|symptom| symptom.ratio(kind)).product();
        let said = answered.iter().filter_map(|(question, answer)| Some(question.likelihood((*answer)?, kind)));
        seen * said.product::<f64>()
    };
    // Most faults leave the working point as it is, or share it with others.
    let known: RefCell<HashMap<Moved, Option<Wired>>> = RefCell::default();
    let make = |variant: &Variant, at: At| {
        let mut known = known.borrow_mut();
        let mut wired = known.entry((variant.moves(), at)).or_insert_with(|| settled(Some(variant), at)).clone()?;
        variant.after(&mut wired, at, charger.filter(|_| at == At::Charging));
        Network::of(&wired, &points, variant, at)
    };
    let odd = (!seen.is_empty()).then_some(&setting);
    let mut all: Vec<Hypothesis<'_>> = variants(&sound, has_plug, workspace.pack.parallel.unwrap_or(1), odd)
        .into_iter()
        .map(|variant| {
            let mut stories = setting.stories(variant.fault.kind);
            stories.iter_mut().for_each(|s| s.share *= told(s.kind));
            Hypothesis::new(variant, &make, stories)
        })
        .collect();
    for reading in readings {
        let error = error_v(reading.volts);
        all.iter_mut().for_each(|h| h.take(reading, &level, error));
    }
    let probability = probabilities(&all);
    let mut causes = causes(&all, &probability, &sound, &points);
    let lines = lines(&causes);
    causes.truncate(TOLD);
    let sure = causes.first().is_some_and(|c| c.probability > SURE);
    let next = if sure { None } else { choose(&all, &points.candidates(), readings, &level, &error_v) };
    let asked: Vec<&OddQuestion> = answered.iter().map(|(question, _)| *question).collect();
    let solved = sure && causes.first().is_some_and(|c| c.reasons.first().is_none_or(|r| r.probability > REASON_SURE));
    let ask = if solved { None } else { ask(&all, &probability, &asked, seen) };
    let worth = |found: Option<f64>| found.unwrap_or(0.0);
    let ask_first = worth(ask.map(|(worth, _)| worth)) > worth(next.as_ref().map(|(worth, _)| *worth));
    let next = next.map(|(_, (red, black, at))| NextReading { red, black, condition: at, how: at.how() });
    let fits = causes.first().is_none_or(|c| c.fault != FaultKind::Other);
    Ok(Diagnosis {
        says: outcome(&causes, next.is_some() || ask.is_some(), fits),
        hypotheses: causes,
        lines,
        next,
        ask: ask.map(|(_, question)| question),
        ask_first,
        sure,
        fits,
        points: points.named(&sound),
    })
}

/// The causes with their reasons, the likeliest first. What leaves every voltage right is a cause of its own.
fn causes(all: &[Hypothesis<'_>], probability: &[f64], sound: &Wired, points: &Points) -> Vec<Cause> {
    let mut by_fault: BTreeMap<CircuitFault, BTreeMap<FaultKind, f64>> = BTreeMap::new();
    for (h, p) in all.iter().zip(probability) {
        for story in &h.stories {
            let fault = match h.variant.fault {
                fault if fault.kind == FaultKind::Healthy => CircuitFault { kind: story.kind, at: None },
                fault => fault,
            };
            *by_fault.entry(fault).or_default().entry(story.kind).or_default() += p * story.share;
        }
    }
    let placed = |(fault, behind): (CircuitFault, BTreeMap<FaultKind, f64>)| Cause {
        place: place(fault, sound, points),
        ..cause(fault, &behind)
    };
    let mut ranked: Vec<Cause> = by_fault.into_iter().map(placed).collect();
    ranked.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    ranked
}

/// One of several places is told by itself once it has this share of them all.
const STANDS_OUT: f64 = 0.5;
/// Lines less likely than this are left out.
const LEAST_LINE: f64 = 0.01;

/// Causes that differ only in their place are one line until one of them stands out.
fn lines(causes: &[Cause]) -> Vec<CauseLine> {
    let mut found: Vec<CauseLine> = vec![];
    let mut told: Vec<FaultKind> = vec![];
    for (index, cause) in causes.iter().enumerate().filter(|(_, c)| c.probability > 0.0) {
        let of_kind: f64 = causes.iter().filter(|c| c.fault == cause.fault).map(|c| c.probability).sum();
        let alone = cause.at.is_none() || cause.probability > STANDS_OUT * of_kind;
        if alone {
            found.push(CauseLine { says: cause.says.clone(), probability: cause.probability, cause: index });
        } else if !told.contains(&cause.fault) {
            // The one that stands out, if any, has a line of its own.
            let out = causes.iter().find(|c| c.fault == cause.fault && c.probability > STANDS_OUT * of_kind);
            let probability = of_kind - out.map_or(0.0, |c| c.probability);
            let says = if out.is_some() { elsewhere(cause.fault) } else { anywhere(cause.fault) };
            found.push(CauseLine { says: says.to_owned(), probability, cause: index });
            told.push(cause.fault);
        }
    }
    found.retain(|line| line.probability > LEAST_LINE && line.cause < TOLD);
    found.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    found
}

/// A cause with what lies behind it, not placed yet.
fn cause(fault: CircuitFault, behind: &BTreeMap<FaultKind, f64>) -> Cause {
    let probability: f64 = behind.values().sum();
    let mut reasons: Vec<FaultReason> = behind
        .iter()
        .filter(|(kind, _)| **kind != fault.kind)
        .map(|(&kind, p)| {
            let says = says(CircuitFault { kind, at: None });
            FaultReason { fault: kind, probability: p / probability.max(f64::MIN_POSITIVE), says }
        })
        .collect();
    reasons.sort_by(|a, b| b.probability.total_cmp(&a.probability));
    let likeliest = reasons.first().filter(|r| r.probability > REASON_SURE).map(|r| r.fault);
    let told = likeliest.unwrap_or(fault.kind);
    Cause {
        fault: fault.kind,
        at: fault.at,
        probability,
        says: says(CircuitFault { kind: told, at: fault.at }),
        proof: proof(told),
        cure: cure(told),
        harmed: harmed(told),
        reasons,
        place: FaultPlace::default(),
    }
}

fn outcome(hypotheses: &[Cause], more: bool, fits: bool) -> String {
    if !fits {
        return "Nothing known reads like that. Read the points again, and check whether it is wired as planned."
            .to_owned();
    }
    match hypotheses {
        [first, ..] if first.probability > SURE => first.says.clone(),
        [first, second, ..] if !more => format!(
            "{} Or: {} This meter cannot tell them apart. This would: {}.",
            first.says,
            second.says,
            tool(if first.fault == FaultKind::Healthy { second.fault } else { first.fault })
        ),
        [first, ..] if first.probability > LIKELY => format!("Most likely so far: {}", first.says),
        [_, ..] => "Nothing stands out yet.".to_owned(),
        [] => String::new(),
    }
}

/// The plan's charger at work; none where the device's own circuit charges, or its current is not known.
fn charging(workspace: &Workspace<'_>, level: &Level) -> Option<Charging> {
    let charges = workspace.charges().filter(|_| workspace.plan.charging.host != Some(HostCircuit::ChargesPack))?;
    let (end_v, charge_a) = (charges.output_v.value, workspace.ledger.value(&CHARGER_A)?);
    let pack_v: f64 = level.group_v.iter().sum();
    Some(Charging { end_v, pack_v, ohm: ((end_v - pack_v) / charge_a).max(LEAST_CHARGER_OHM) })
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

#[cfg(test)]
mod tests {
    use super::*;

    fn likely(kind: FaultKind, probability: f64) -> Cause {
        cause(CircuitFault { kind, at: None }, &BTreeMap::from([(kind, probability)]))
    }

    #[test]
    fn what_this_meter_cannot_tell_apart_is_said_with_the_tool_that_can() {
        let two = [likely(FaultKind::WornCells, 0.55), likely(FaultKind::Cold, 0.45)];
        let end = outcome(&two, false, true);
        assert!(end.contains("cannot tell them apart") && end.contains("a capacity test"), "{end}");
        // Beside a sound pack it is the tool for what else it may be.
        let two = [likely(FaultKind::Healthy, 0.6), likely(FaultKind::StandbyDrain, 0.4)];
        assert!(outcome(&two, false, true).contains("microamperes"));
        assert_eq!(outcome(&two, true, true), "Most likely so far: Everything reads as it should.");
        assert!(outcome(&two, true, false).starts_with("Nothing known reads like that"));
    }
}
