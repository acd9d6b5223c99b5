//! What the survey decides: each rule fires on the edge it names and stays silent just beside it; logs and meters hold
//! for whatever is read.

use crate::common;

use brick_core::assess::assess;
use brick_core::base::quantity::Unit;
use brick_core::physics::device::{levels, log};
use brick_core::physics::meters::{differ, judge};
use brick_core::plan::{Meter, Reads};
use common::{known, module, sound, with};
use proptest::prelude::*;
use serde_json::{Value, json};

fn rules(changes: &[(&str, Value)]) -> Vec<String> {
    assess(&with(&sound(), changes)).unwrap().findings.into_iter().map(|f| f.key).collect()
}

/// Each near miss of a flaw: unknown, or just inside. No finding at all may come.
#[test]
fn the_rules_of_the_survey_are_silent_just_beside_what_they_warn_of() {
    let alarms = |levels: &[f64]| {
        let list: Vec<Value> = levels.iter().map(|v| json!({"name": "level", "at_v": known(*v)})).collect();
        json!({ "alarms": list })
    };
    for (name, changes) in [
        ("soft start, kept", vec![("device/brains", json!({"soft_start": true, "soft_start_kept": true}))]),
        ("soft start, not known whether kept", vec![("device/brains", json!({"soft_start": true}))]),
        ("no soft start to keep", vec![("device/brains", json!({"soft_start": false, "soft_start_kept": false}))]),
        (
            "lower setting just at the cut-out",
            vec![
                ("device/brains", json!({"selector": true, "selector_low_v": known(10.0)})),
                ("device/cutout_v", known(10.0)),
            ],
        ),
        (
            "lower setting below, but no selector",
            vec![
                ("device/brains", json!({"selector": false, "selector_low_v": known(9.0)})),
                ("device/cutout_v", known(10.0)),
            ],
        ),
        // The pack runs from 16.8 V down to 12 V: alarms strictly between fit it.
        ("alarms inside the run", vec![("device/brains", alarms(&[16.7, 14.0, 12.1]))]),
        ("air holes in the dry", vec![("device/surroundings", json!({"wet": false, "dusty": false, "vented": true}))]),
        ("rain on a closed box", vec![("device/surroundings", json!({"wet": true, "dusty": true, "vented": false}))]),
        ("oil on a closed box", vec![("device/surroundings", json!({"chemicals": true, "vented": false}))]),
        ("does not charge itself", vec![("device/brains", json!({"charges_itself": false, "identity_pins": false}))]),
        (
            "used at just 60 C",
            vec![
                ("environment/use_max_c", json!(60.0)),
                ("fuse/rating_a", json!(12.0)),
                ("device/loads/1/draw/value_a", known(12.0)),
            ],
        ),
    ] {
        let found = rules(&changes);
        let about: Vec<_> = found
            .iter()
            .filter(|k| k.starts_with("device.") || k.starts_with("run.over") || k.contains("host"))
            .collect();
        assert!(about.is_empty(), "{name}: {about:?}");
    }
}

#[test]
fn an_alarm_at_the_very_end_of_the_run_or_at_full_is_told_each_by_itself() {
    let alarms = json!({"alarms": [
        {"name": "full", "at_v": known(16.8)}, {"name": "half", "at_v": known(14.4)}, {"name": "empty", "at_v": known(12.0)}]});
    let found = rules(&[("device/brains", alarms.clone())]);
    let about: Vec<_> = found.iter().filter(|k| k.starts_with("device.alarm")).collect();
    assert_eq!(about, ["device.alarm-not-rescaled@0", "device.alarm-not-rescaled@2"]);
    // Behind a converter the gauge sees constant volts: nothing can be said of its levels.
    let converter =
        module("converter", json!({"converts": {"topology": "buck_boost", "output_v": 14.4, "wired_in": false}}));
    let found = rules(&[("device/brains", alarms), ("converter", converter)]);
    assert!(!found.iter().any(|k| k.starts_with("device.alarm")), "{found:?}");
}

/// A reading as a line, in one of the forms that meters write.
fn line(form: usize, time_s: f64, current_a: f64) -> String {
    let comma = |v: f64| format!("{v:.3}").replace('.', ",");
    match form {
        0 => format!("{time_s:.3},{current_a:.3}"),
        1 => format!("{};{}", comma(time_s), comma(current_a)),
        2 => format!("{time_s:.3}\t{current_a:.3}"),
        _ => format!("{} {}", comma(time_s), comma(current_a)),
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 200, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn any_text_is_a_log_or_a_list_of_bad_lines(text in "[-0-9.,;:\t a-zA-Z\n\"µ]{0,200}", interval_s in proptest::option::of(0.001..10.0f64)) {
        match log::read(&text, interval_s) {
            Ok(found) => {
                prop_assert!(found.samples.len() >= 2 && found.samples[0].time_s == 0.0);
                let r = levels::find(&found, None, None);
                for value in [r.run_a, r.duty, r.mean_a, r.rms_a, r.interval_s, r.span_s] {
                    prop_assert!(value.is_finite(), "{r:?}");
                }
                prop_assert!((0.0..=1.0 + 1e-9).contains(&r.duty));
            }
            Err(errors) => prop_assert!(errors.iter().all(|e| e.line >= 1 && !e.reason.is_empty()) && !errors.is_empty()),
        }
    }

    #[test]
    fn every_form_of_a_log_is_read_the_same(currents in prop::collection::vec(0.001..50.0f64, 2..60), form in 0..4usize) {
        let text: Vec<String> = currents.iter().enumerate().map(|(i, a)| line(form, i as f64 * 0.5, *a)).collect();
        let found = log::read(&text.join("\n"), None).map_err(|e| TestCaseError::fail(format!("{e:?}")))?;
        prop_assert_eq!(found.samples.len(), currents.len());
        for (sample, a) in found.samples.iter().zip(&currents) {
            prop_assert!((sample.current_a - a).abs() <= 0.0005 + 1e-9);
        }
    }

    /// Mean and RMS against a slow, obvious twin; RMS is never below the mean; no level above the largest reading.
    #[test]
    fn sums_of_a_log_agree_with_the_obvious_ones(currents in prop::collection::vec(0.0..50.0f64, 3..200)) {
        let samples = currents.iter().enumerate().map(|(i, &current_a)| log::Sample { time_s: i as f64, current_a }).collect();
        let r = levels::find(&log::LoadLog { samples, flipped: false }, None, None);
        let count = currents.len() as f64;
        let mean_a = currents.iter().sum::<f64>() / count;
        let rms_a = (currents.iter().map(|a| a * a).sum::<f64>() / count).sqrt();
        prop_assert!((r.mean_a - mean_a).abs() < 1e-9 && (r.rms_a - rms_a).abs() < 1e-9);
        prop_assert!(r.rms_a >= r.mean_a - 1e-12);
        let most_a = currents.iter().copied().fold(0.0, f64::max);
        for level in [r.hard.map(|e| e.current_a), r.peak.map(|e| e.current_a), Some(r.run_a)].into_iter().flatten() {
            prop_assert!(level <= most_a + 1e-9);
        }
    }

    /// The levels of any log can stand in a plan.
    #[test]
    fn levels_of_any_log_can_stand_in_a_plan(currents in prop::collection::vec(0.01..50.0f64, 3..120)) {
        let samples = currents.iter().enumerate().map(|(i, &current_a)| log::Sample { time_s: i as f64, current_a }).collect();
        let r = levels::find(&log::LoadLog { samples, flipped: false }, None, Some("hand meter"));
        let plan = with(&sound(), &[("device/loads", serde_json::to_value(&r.levels).unwrap())]);
        prop_assert!(plan.check().is_ok(), "{:?}", plan.check());
    }

    #[test]
    fn a_larger_reading_never_has_a_smaller_error_and_differing_is_mutual(a in 0.0..20.0f64, b in 0.0..20.0f64, share in 0.0..0.1f64, steps in 0.0..10.0f64) {
        let meter = Meter { id: "m".to_owned(), name: "m".to_owned(), reads: Reads::Volts, range: 20.0, step: 0.01,
            error_share: share, error_steps: steps, burden_ohm: None, every_s: None };
        let error = |v: f64| judge(&meter, v, Unit::V).unwrap().error;
        prop_assert!(a > b || error(a) <= error(b) + 1e-12);
        prop_assert_eq!(differ(a, error(a), b, error(b)), differ(b, error(b), a, error(a)));
        prop_assert!(!differ(a, error(a), a, error(a)));
    }
}
