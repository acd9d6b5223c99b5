//! The next step: in the order of the work, at a place of the plan, and enough to follow.

use crate::common;

use brick_core::Plan;
use brick_core::advise::fix::fixes;
use brick_core::advise::suggest::{options, suggest};
use brick_core::assess::{NextKind, NextStep, Severity, Stage, assess};
use brick_core::base::chemistry::Chemistry;
use brick_core::physics::device::jobs::template;
use brick_core::plan::{Change, Job, apply};
use common::flaws::{changes_of, flaws};
use common::{catalogue, known, sound, with};
use serde_json::{Value, json};

fn next(plan: &Plan) -> NextStep {
    assess(plan).unwrap().next
}

/// Nothing holds without the device: it comes first; then what each stage decides, in the order of the work; a stop before what comes after it.
#[test]
fn the_next_step_follows_the_order_of_the_work() {
    let blank = template(Job::MotorTool, "Hedge saw");
    let first = next(&blank);
    assert_eq!((first.kind, first.stage), (NextKind::Measure, Some(Stage::Device)));
    let surveyed = with(
        &blank,
        &[
            ("device/highest_v", known(21.0)),
            ("device/lowest_v", known(12.0)),
            (
                "device/loads",
                json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": known(6.0)}}]),
            ),
        ],
    );
    assert_eq!(next(&surveyed).stage, Some(Stage::Voltage));
    assert_eq!(next(&surveyed).kind, NextKind::Choose);
    let matched = with(&surveyed, &[("packs/0/chemistry", json!("li_ion")), ("packs/0/series", json!(4))]);
    assert_eq!(next(&matched).says, "Choose the cells");
    // Seven in series are too much for the device: that is cleared before any cell is chosen.
    let too_high = with(&matched, &[("packs/0/series", json!(7))]);
    assert_eq!(next(&too_high).kind, NextKind::ClearStop);
    assert!(next(&too_high).finding.unwrap().starts_with("voltage."));
}

/// A stop that nobody accepted is always the next step or comes after something that is not chosen yet.
#[test]
fn no_plan_with_a_stop_is_said_to_be_done() {
    for flaw in flaws().iter().filter(|f| f.severity == Severity::Stop) {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(flaw));
        let step = next(&plan);
        assert!(
            matches!(step.kind, NextKind::ClearStop | NextKind::Choose) || step.stage == Some(Stage::Device),
            "{}: {step:?}",
            flaw.name
        );
    }
}

/// Every question is answered at a place of the plan: what holds it is there.
#[test]
fn where_a_question_is_answered_is_a_place_of_the_plan() {
    let mut asked = 0;
    for flaw in flaws() {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(&flaw));
        let document = serde_json::to_value(&plan).unwrap();
        for question in assess(&plan).unwrap().stages.into_iter().flat_map(|s| s.to_find_out) {
            let (holder, _) = question.at.rsplit_once('/').unwrap();
            assert!(
                document.pointer(holder).is_some(),
                "{}: “{}” is answered at {}",
                flaw.name,
                question.what,
                question.at
            );
            asked += 1;
        }
    }
    assert!(asked > 100, "{asked}");
}

/// What a beginner knows of a device, by the place where it is asked.
fn answer(at: &str) -> Option<Value> {
    Some(match at {
        "/device/original/chemistry" => json!("nickel"),
        "/device/original/series" => json!(12),
        "/device/highest_v" => known(21.0),
        "/device/lowest_v" => known(12.5),
        "/device/loads" => json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": known(5.0)}},
            {"id": "start", "name": "start", "draw": {"as": "current", "value_a": known(12.0)}, "duration_s": 0.4}]),
        _ => return None,
    })
}

/// A beginner who only follows the next step, knows three figures of the device and takes the first of every list, of voltages the first Li-ion one, has a plan without a stop.
#[test]
fn following_the_next_step_leads_to_a_plan_without_stops() {
    let catalogue = catalogue();
    for job in [Job::MotorTool, Job::Pump, Job::ToyOrModel] {
        let mut plan = template(job, "Level");
        let mut steps = vec![];
        for _ in 0..40 {
            let step = next(&plan);
            steps.push(step.says.clone());
            let changes: Vec<Change> = match (step.kind, step.at.as_deref()) {
                (NextKind::ClearStop, _) => {
                    let found = fixes(&plan, &catalogue, step.finding.as_deref().unwrap()).unwrap();
                    let Some(fix) = found.into_iter().next() else { break };
                    fix.changes
                }
                // The demo's catalogue has parts for this chemistry.
                (NextKind::Choose, Some("/packs/0/chemistry")) => {
                    let found = options(&plan).unwrap().options;
                    found.into_iter().find(|o| o.chemistry == Chemistry::LiIon).unwrap().changes
                }
                (NextKind::Choose, Some(at)) => {
                    let place = match at.split('/').collect::<Vec<_>>()[..] {
                        [_, "nodes", i, ..] => plan.nodes[i.parse::<usize>().unwrap()].id.clone(),
                        [_, "runs", i, ..] => plan.connections[i.parse::<usize>().unwrap()].id.clone(),
                        _ => at.rsplit('/').next().unwrap().to_owned(),
                    };
                    suggest(&plan, &catalogue, &place).unwrap().remove(0).changes
                }
                (NextKind::Measure, Some(at)) => match answer(at) {
                    Some(value) => vec![Change::put(at, value)],
                    None => break,
                },
                _ => break,
            };
            plan = apply(&plan, &changes).unwrap();
        }
        let assessment = assess(&plan).unwrap();
        let stops: Vec<&str> =
            assessment.findings.iter().filter(|f| f.severity == Severity::Stop).map(|f| f.key.as_str()).collect();
        assert!(stops.is_empty(), "{job:?}: {stops:?} after {steps:#?}");
        assert!(assessment.figure("run.time_s").is_some(), "{job:?} after {steps:#?}");
    }
}
