//! Every kind of job a maker brings can be entered with what is special about it, and the program notices that.

use crate::common;

use std::collections::BTreeSet;

use brick_core::assess::{Assessment, assess};
use brick_core::{Plan, plan};
use common::jobs::{entered, told};
use common::{known, sound, with};
use serde_json::json;

fn questions(assessment: &Assessment) -> Vec<&str> {
    assessment.stages.iter().flat_map(|s| &s.to_find_out).map(|q| q.what.as_str()).collect()
}

#[test]
fn what_is_special_about_each_job_is_entered_noticed_and_asked() {
    let mut wrong = vec![];
    for told in told() {
        let plan = entered(&told);
        let assessment = assess(&plan).unwrap_or_else(|e| panic!("{}: {e:?}", told.name));
        let keys: Vec<&str> = assessment.findings.iter().map(|f| f.key.as_str()).collect();
        for expected in told.notices.iter().filter(|expected| !keys.contains(expected)) {
            wrong.push(format!("{}: {expected} is missing among {keys:?}", told.name));
        }
        let questions = questions(&assessment);
        for expected in told.asks.iter().filter(|expected| !questions.iter().any(|q| q.contains(**expected))) {
            wrong.push(format!("{}: “{expected}” is not asked among {questions:?}", told.name));
        }
        let text = serde_json::to_string(&plan).unwrap();
        assert_eq!(Plan::from_json(&text).unwrap(), plan, "{}", told.name);
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn every_kind_of_job_is_among_them() {
    let kinds: BTreeSet<&str> = told().iter().map(|t| t.job).collect();
    let all: BTreeSet<String> = brick_core::physics::device::jobs::JOBS
        .iter()
        .map(|sheet| serde_json::to_value(sheet.job).unwrap().as_str().unwrap().to_owned())
        .collect();
    assert_eq!(kinds.into_iter().map(str::to_owned).collect::<BTreeSet<_>>(), all);
}

/// An answer takes its question off the list, and an unknown never becomes an answer by itself.
#[test]
fn a_question_goes_when_it_is_answered_and_not_before() {
    for (job, question, answer) in [
        ("motor_tool", "Whether it works", ("device/proving", json!({"lives": true}))),
        ("motor_tool", "Whether it starts softly", ("device/brains", json!({"soft_start": false}))),
        (
            "instrument_with_charger",
            "Whether it charges its battery itself",
            ("device/brains", json!({"charges_itself": false})),
        ),
        (
            "recelling",
            "What the small contacts",
            ("device/brains", json!({"identity_pins": false, "temperature_pins": false})),
        ),
        ("pump", "Whether a selector", ("device/brains", json!({"selector": false}))),
        (
            "pump",
            "What it must withstand",
            ("device/surroundings", json!({"wet": true, "dusty": false, "shocks": false})),
        ),
        (
            "handheld_with_gauge",
            "Voltage at which its gauge changes",
            ("device/brains", json!({"alarms": [{"name": "low", "at_v": known(12.5)}]})),
        ),
        (
            "toy_or_model",
            "Inside of the compartment",
            (
                "device/compartments",
                json!([{"id": "tray", "name": "tray",
            "space": {"shape": "cylinder", "diameter_mm": 40.0, "length_mm": 90.0}}]),
            ),
        ),
    ] {
        let open = with(&sound(), &[("device/job", json!(job))]);
        let asked = |plan: &plan::Plan| questions(&assess(plan).unwrap()).iter().any(|q| q.starts_with(question));
        assert!(asked(&open), "{question}");
        assert!(!asked(&with(&open, &[answer])), "{question}");
    }
}

/// Common practice, no source: one flat cell must show as four primary ones, 3.0 V at its sensible end as 4.0 V: k = 1.333.
/// Worked by hand with 100 k over 33 k ∥ 1 M = 31.95 k: the top becomes 31.95 k × (1 / 0.32282 − 1) = 67.0 k, 68 k of E24,
/// which leaves 0.98 % less.
#[test]
fn the_divider_of_four_primary_cells_is_changed_for_one_flat_cell() {
    let told = told();
    let flat = told.iter().find(|t| t.name.starts_with("four primary")).unwrap();
    let assessment = assess(&entered(flat)).unwrap();
    let value = |id: &str| assessment.figure(id).unwrap_or_else(|| panic!("{id}")).value;
    assert!((value("gauge.wanted_k") - 4.0 / 3.0).abs() < 1e-9);
    assert!((value("gauge.exact_ohm") / 67_014.0 - 1.0).abs() < 1e-3, "{}", value("gauge.exact_ohm"));
    assert_eq!(value("gauge.ohm"), 68_000.0);
    assert!((value("gauge.error_share") + 0.0098).abs() < 1e-3, "{}", value("gauge.error_share"));
    assert!((value("gauge.shown_empty_v") - 3.0 * value("gauge.new_k")).abs() < 1e-9);
    assert!((value("gauge.alarm_true_v@1") - 4.0 / value("gauge.new_k")).abs() < 1e-9);
    assert!((value("gauge.drain_a") - 4.2 / (68_000.0 + 31_946.0)).abs() < 1e-7);
}

/// What the device shows against what a meter reads gives k without knowing a resistor: 11.4 shown at 12.0 V.
#[test]
fn two_readings_say_how_a_gauge_reads_and_what_to_type_into_it() {
    let plan = with(
        &sound(),
        &[(
            "feed/gauge",
            json!({"top_ohm": 1e6, "bottom_ohm": 1e5, "series": "e96",
        "shown_v": known(11.4), "true_v": known(12.0)}),
        )],
    );
    let assessment = assess(&plan).unwrap();
    let value = |id: &str| assessment.figure(id).unwrap_or_else(|| panic!("{id}")).value;
    assert!((value("gauge.k") - 0.95).abs() < 1e-9);
    let sag_v = value("pack.sag_usual_v");
    // It is typed in as the gauge shows once the resistor is changed.
    assert!((value("gauge.set_empty_v") - value("gauge.new_k") * (12.0 - sag_v)).abs() < 1e-9);
    assert!(value("gauge.set_low_v") > value("gauge.set_empty_v"));
    assert!((value("cutoff.set_v") - (12.0 - sag_v)).abs() < 1e-9);
    assert!(value("cutoff.rearm_set_v") - value("cutoff.set_v") > value("load.continuous_a") * value("path.ohm"));
}
