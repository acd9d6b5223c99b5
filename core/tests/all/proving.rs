//! Proving a device on the bench: order, judgement of each reading, and what becomes of the survey.

use crate::common;

use brick_core::Plan;
use brick_core::advise::prove::procedure;
use brick_core::assess::{Verdict, assess};
use brick_core::plan::{How, apply};
use common::{known, with};
use serde_json::{Value, json};

/// Eight primary cells: 12 V nominal, at least 12.4 V fresh (1.55 a cell, common practice).
fn detector(readings: Value) -> Plan {
    with(
        &Plan::blank("Metal detector"),
        &[("device/original", json!({"chemistry": "alkaline", "series": 8})), ("device/proving", readings)],
    )
}

fn verdicts(readings: Value) -> Vec<(&'static str, Verdict, bool)> {
    procedure(&detector(readings)).unwrap().steps.into_iter().map(|s| (s.field, s.verdict, s.open)).collect()
}

#[test]
fn the_steps_open_one_after_another_and_a_stop_closes_the_rest() {
    use Verdict::{Fine, NothingYet, Stop};
    let fields: Vec<_> = verdicts(json!({})).into_iter().map(|(field, _, open)| (field, open)).collect();
    assert_eq!(
        fields,
        [
            ("limit_a", true),
            ("idle_a", false),
            ("lives", false),
            ("draw_a", false),
            ("stops_at_v", false),
            ("ran_at_v", false),
        ]
    );
    let dead = verdicts(json!({"limit_a": 1.0, "idle_a": known(0.0005), "lives": false}));
    assert_eq!(
        &dead[..4],
        [("limit_a", Fine, true), ("idle_a", Fine, true), ("lives", Stop, true), ("draw_a", NothingYet, false),]
    );
}

#[test]
fn each_reading_is_judged_as_it_is_typed() {
    let judge = |readings: Value, field: &str| {
        let steps = procedure(&detector(readings)).unwrap().steps;
        let step = steps.into_iter().find(|s| s.field == field).unwrap();
        (step.verdict, step.said.unwrap().text)
    };
    for (readings, field, verdict, told) in [
        (json!({"limit_a": 10.0}), "limit_a", Verdict::Caution, "three times"),
        (json!({"limit_a": 1.0, "idle_a": known(1.0)}), "idle_a", Verdict::Stop, "Disconnect at once"),
        (json!({"limit_a": 1.0, "idle_a": known(0.02)}), "idle_a", Verdict::Caution, "20 mA"),
        (json!({"limit_a": 1.0, "draw_a": known(0.96)}), "draw_a", Verdict::Caution, "limiting"),
        (json!({"stops_at_v": known(12.0)}), "stops_at_v", Verdict::Stop, "impossible"),
        (json!({"stops_at_v": known(8.2)}), "stops_at_v", Verdict::Fine, "8.2 V"),
        (json!({"ran_at_v": known(12.4)}), "ran_at_v", Verdict::Fine, "12.4 V"),
        (json!({"ran_at_v": known(12.5)}), "ran_at_v", Verdict::Stop, "beyond what it ever ran at"),
    ] {
        let (found, said) = judge(readings.clone(), field);
        assert_eq!(found, verdict, "{readings}: {said}");
        assert!(said.contains(told), "{readings}: {said}");
    }
    // Volts and amperes swapped: 12 in place of 0.24.
    let swapped = with(
        &detector(json!({"limit_a": 40.0, "draw_a": known(12.0)})),
        &[("device/loads", json!([{"id": "on", "name": "on", "draw": {"as": "current", "value_a": known(0.24)}}]))],
    );
    let step = procedure(&swapped).unwrap().steps.remove(3);
    assert!(step.verdict == Verdict::Caution && step.said.unwrap().text.contains("swapped"));
}

#[test]
fn what_was_proved_takes_the_place_of_what_was_assumed() {
    let readings = json!({"limit_a": 1.0, "idle_a": known(0.0), "lives": true, "draw_a": known(0.24),
        "stops_at_v": {"value": 8.2, "how": "measured", "error": 0.1, "meter": "bench supply"}, "ran_at_v": known(12.4)});
    let plan = detector(readings);
    assert!(
        assess(&plan).unwrap().findings.iter().any(|f| f.rule == "device.highest-assumed")
            || plan.packs[0].series.is_none()
    );
    let proved = apply(&plan, &procedure(&plan).unwrap().changes).unwrap();
    let d = &proved.device;
    assert_eq!(d.highest_v.as_ref().unwrap().value, 12.4);
    assert_eq!((d.lowest_v.as_ref().unwrap().value, d.lowest_v.as_ref().unwrap().error), (8.2, Some(0.1)));
    assert_eq!(d.cutout_v.as_ref().unwrap().how, How::Measured);
    assert_eq!(d.loads.len(), 1);
    let assessment = assess(&proved).unwrap();
    assert!(!assessment.findings.iter().any(|f| f.rule == "device.highest-assumed"));
    assert!(!assessment.figure("device.lowest_v").unwrap().assumed);
    // A stop anywhere proves nothing.
    let stopped = detector(json!({"lives": true, "stops_at_v": known(8.2), "ran_at_v": known(15.0)}));
    assert!(procedure(&stopped).unwrap().changes.is_empty());
}

#[test]
fn without_the_old_battery_it_says_what_is_missing() {
    let procedure = procedure(&Plan::blank("Box")).unwrap();
    assert!(procedure.missing.unwrap().contains("old battery") && procedure.steps.is_empty());
}
