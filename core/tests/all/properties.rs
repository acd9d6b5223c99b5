//! Whatever is typed: no panic, an answer or named fields, and answers that hang together.

use crate::common;

use brick_core::Plan;
use brick_core::advise::suggest::options;
use brick_core::assess::{Severity, assess};
use brick_core::plan::{Change, apply};
use common::{known, sound, with};
use proptest::prelude::*;
use serde_json::{Value, json};

/// Every number in a document, by pointer.
fn numbers(at: &str, value: &Value, found: &mut Vec<String>) {
    match value {
        Value::Number(_) => found.push(at.to_owned()),
        Value::Array(items) => items.iter().enumerate().for_each(|(i, v)| numbers(&format!("{at}/{i}"), v, found)),
        Value::Object(map) => map.iter().for_each(|(k, v)| numbers(&format!("{at}/{k}"), v, found)),
        _ => {}
    }
}

fn all_numbers() -> Vec<String> {
    let mut found = vec![];
    numbers("", &serde_json::to_value(sound()).unwrap(), &mut found);
    found
}

/// Ordinary, tiny, huge and negative numbers.
fn any_number() -> impl Strategy<Value = f64> {
    prop_oneof![
        3 => 0.001..100.0f64,
        1 => prop::num::f64::NORMAL,
        1 => Just(0.0),
        1 => Just(1e308),
        1 => Just(-1e308),
        1 => Just(5e-324),
        1 => (0..30i32).prop_map(f64::from),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 600, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn any_numbers_anywhere_give_an_answer_or_named_fields(
        picks in prop::collection::vec((any::<prop::sample::Index>(), any_number()), 1..6)
    ) {
        let places = all_numbers();
        let mut document = serde_json::to_value(sound()).unwrap();
        for (pick, number) in &picks {
            *document.pointer_mut(pick.get::<String>(&places)).unwrap() = json!(number);
        }
        // Counts given as fractions are no plan at all; what parses must be judged.
        let Ok(plan) = serde_json::from_value::<Plan>(document) else { return Ok(()) };
        match assess(&plan) {
            Ok(assessment) => {
                for figure in &assessment.figures {
                    prop_assert!(figure.value.is_finite(), "{} is {}", figure.id, figure.value);
                }
                for finding in &assessment.findings {
                    prop_assert!(!finding.why.text.contains("unknown"), "{}: {}", finding.key, finding.why.text);
                }
                serde_json::to_string(&assessment).unwrap();
                options(&plan).unwrap();
            }
            Err(errors) => prop_assert!(errors.iter().all(|e| e.field.starts_with('/') && !e.message.is_empty())),
        }
    }

    #[test]
    fn more_margin_never_makes_a_plan_worse(factor in 1.0..3.0f64, place in 0..4usize) {
        let (at, value) = [
            ("plug/continuous_a", 30.0), ("switch/continuous_a", 30.0), ("cell/discharge_a", 20.0), ("board/protects/continuous_a", 30.0),
        ][place];
        // A cell that bears more for good bears more for seconds too.
        let mut changes = vec![(at, json!(value * factor))];
        if at == "cell/discharge_a" {
            changes.push(("cell/pulse_a", json!(35.0 * factor)));
        }
        // Nor does a board trip below what it carries.
        if at == "board/protects/continuous_a" {
            changes.extend([("board/protects/trip_a", known(70.0 * factor)), ("board/protects/short_a", json!(200.0 * factor))]);
        }
        let better = with(&sound(), &changes);
        prop_assert!(assess(&better).unwrap().findings.is_empty());
    }

    #[test]
    fn more_load_never_runs_longer_nor_clears_a_stop(a in 0.5..60.0f64, more in 1.01..3.0f64) {
        let at = |load_a: f64| assess(&with(&sound(), &[("device/loads/0/draw/value_a", known(load_a))])).unwrap();
        let (light, heavy) = (at(a), at(a * more));
        // What sags to nothing has no run at all.
        let run = |x: &brick_core::Assessment| x.figure("run.time_s").map_or(0.0, |f| f.value);
        prop_assert!(run(&heavy) <= run(&light) * (1.0 + 1e-9));
        for stop in light.findings.iter().filter(|f| f.severity == Severity::Stop) {
            let stops: Vec<&str> =
                heavy.findings.iter().filter(|f| f.severity == Severity::Stop).map(|f| f.key.as_str()).collect();
            // What the wires took of the device's volts the cells take themselves, once they sag far enough.
            let taken = ["voltage.loaded-below-device", "voltage.nothing-usable"];
            let by_cells = stop.key == "wiring.drop-below-device" && taken.iter().any(|key| stops.contains(key));
            prop_assert!(stops.contains(&stop.key.as_str()) || by_cells, "{} went away: {stops:?}", stop.key);
        }
    }

    #[test]
    fn every_link_that_is_over_its_limit_has_a_finding(load_a in 0.5..80.0f64, peak_a in 1.0..200.0f64, peak_s in 0.01..9.0f64) {
        let plan = with(&sound(), &[
            ("device/loads/0/draw/value_a", known(load_a)),
            ("device/loads/1/draw/value_a", known(peak_a)),
            ("device/loads/1/duration_s", json!(peak_s)),
        ]);
        let assessment = assess(&plan).unwrap();
        for link in &assessment.path.links {
            if link.used.is_some_and(|used| used > 1.0 + 1e-6) {
                prop_assert!(link.severity.is_some(), "{} is used {:?} and nobody says so", link.id, link.used);
            }
        }
    }

    #[test]
    fn counts_scale_volts_capacity_and_mass(series in 1..14u32, parallel in 1..20u32) {
        let plan = with(&sound(), &[("packs/0/series", json!(series)), ("packs/0/parallel", json!(parallel))]);
        let a = assess(&plan).unwrap();
        let value = |id: &str| a.figure(id).unwrap().value;
        let (s, p) = (f64::from(series), f64::from(parallel));
        prop_assert!((value("pack.full_v") - 4.2 * s).abs() < 1e-9);
        prop_assert!((value("pack.ah") - 2.5 * p).abs() < 1e-9);
        prop_assert!((value("pack.wh") - 2.5 * p * 3.6 * s).abs() < 1e-6);
        prop_assert!((value("pack.ohm") - 0.018 * s / p).abs() < 1e-9);
    }
}

#[test]
fn the_hard_numbers_do_reach_the_plan() {
    // The first property would prove nothing if every hard number were refused before it is judged.
    let places = all_numbers();
    assert!(places.len() > 40, "{}", places.len());
    let refused = places.iter().filter(|at| {
        let plan = apply(&sound(), &[Change { at: (*at).clone(), value: json!(1e308) }]);
        plan.is_ok_and(|plan| assess(&plan).is_err())
    });
    assert!(refused.count() > 30);
}

#[test]
fn the_same_plan_gives_the_same_answer() {
    assert_eq!(assess(&sound()).unwrap(), assess(&sound()).unwrap());
}

#[test]
fn every_input_of_every_working_leads_somewhere() {
    let plan = sound();
    let document = serde_json::to_value(&plan).unwrap();
    let assessment = assess(&plan).unwrap();
    assert!(assessment.figures.len() > 60);
    for figure in &assessment.figures {
        for input in &figure.working.inputs {
            match input {
                brick_core::assess::Input::Figure { id } => {
                    assert!(assessment.figure(id).is_some(), "{} rests on {id}, which is not there", figure.id);
                }
                brick_core::assess::Input::Plan { pointer, value, .. } => {
                    let there = document.pointer(pointer).and_then(Value::as_f64);
                    assert_eq!(there, Some(*value), "{} takes {pointer}", figure.id);
                }
                brick_core::assess::Input::Constant { .. } => {}
            }
        }
    }
}

/// Figures that may rightly lie below nothing: temperatures, and differences told with their sign.
fn may_be_negative(id: &str) -> bool {
    let id = id.split_once('@').map_or(id, |(id, _)| id);
    id.ends_with("_c")
        || ["change", "over", "error_share", "headroom_v", "fall_v", "needed_k", "rearm_v"]
            .iter()
            .any(|part| id.contains(part))
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 250, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn no_figure_is_absurd_and_no_sentence_has_a_hole(
        load_a in 0.01..80.0f64,
        peak_a in 0.1..400.0f64,
        peak_s in 0.01..9.0f64,
        awg in 10..30i32,
        series in 1..8u32,
        parallel in 1..5u32,
        chemistry in prop::sample::select(vec!["li_ion", "li_po", "li_hv", "li_fe_po4", "li_titanate", "na_ion"]),
        output_v in prop::option::of(3.0..60.0f64),
        topology in prop::sample::select(vec!["buck", "boost", "buck_boost"]),
        coldest_c in -25.0..20.0f64,
        dcir in prop::option::of(0.002..0.3f64),
        second in prop::option::of(any::<(bool, bool)>()),
    ) {
        let mut changes = vec![
            ("device/loads/0/draw/value_a", known(load_a)),
            ("device/loads/1/draw/value_a", known(peak_a)),
            ("device/loads/1/duration_s", json!(peak_s)),
            ("lead/wire/part/size/awg", json!(awg)),
            ("packs/0/series", json!(series)),
            ("packs/0/parallel", json!(parallel)),
            ("packs/0/chemistry", json!(chemistry)),
            ("cell/chemistry", json!(chemistry)),
            ("environment/use_min_c", json!(coldest_c)),
            ("cell/dcir_ohm", dcir.map_or(serde_json::Value::Null, known)),
        ];
        if let Some(v) = output_v {
            let converts = json!({"topology": topology, "output_v": v, "wired_in": false});
            changes.push(("converter", common::module("converter", json!({"converts": converts}))));
        }
        if let Some((in_series, in_parallel)) = second {
            changes.push(("feed/second", json!({"used_in_series": in_series, "used_in_parallel": in_parallel})));
        }
        let plan = with(&sound(), &changes);
        let assessment = assess(&plan).unwrap();
        for f in &assessment.figures {
            prop_assert!(f.value.is_finite() && f.value.abs() < 1e9, "{} is {}", f.id, f.value);
            prop_assert!(f.value >= -1e-9 || may_be_negative(&f.id), "{} is {}", f.id, f.value);
        }
        for f in &assessment.findings {
            prop_assert!(!f.why.text.contains("unknown") && !f.title.text.contains("unknown"), "{}: {}", f.key, f.why.text);
        }
        // Thicker wire never brings a stop about itself.
        let thicker = assess(&with(&plan, &[("lead/wire/part/size/awg", json!(awg - 4))])).unwrap();
        let about_wire = |a: &brick_core::Assessment| {
            let stops = a.findings.iter().filter(|f| f.severity == Severity::Stop && f.key.ends_with("@lead"));
            stops.map(|f| f.key.clone()).collect::<Vec<_>>()
        };
        let before = about_wire(&assessment);
        prop_assert!(about_wire(&thicker).iter().all(|key| before.contains(key)));
        // More in parallel never runs shorter.
        let more = assess(&with(&plan, &[("packs/0/parallel", json!(parallel + 1))])).unwrap();
        let run = |a: &brick_core::Assessment| a.figure("run.time_s").map(|f| f.value);
        if let (Some(one_s), Some(more_s)) = (run(&assessment), run(&more)) {
            prop_assert!(more_s >= one_s * (1.0 - 1e-9), "{one_s} s, with one more {more_s} s");
        }
    }
}
