//! The ceilings of the path behave as metal and fuses do: longer peaks are borne worse, more metal bears more.

use crate::common;

use brick_core::Plan;
use brick_core::assess::{Link, Path, Severity, assess};
use common::{charger, known, sound, with};
use proptest::prelude::*;
use serde_json::json;

fn path(plan: &Plan) -> Path {
    assess(plan).unwrap().path
}

fn link<'p>(path: &'p Path, id: &str) -> &'p Link {
    path.links.iter().find(|l| l.id == id).unwrap_or_else(|| panic!("no link {id}"))
}

fn rated_a(path: &Path, id: &str) -> f64 {
    link(path, id).peaks[0].limit_a.unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 120, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn no_link_bears_a_longer_peak_better(short_s in 0.01..4.0f64, longer in 1.01..2.4f64) {
        let at = |duration_s: f64| path(&with(&sound(), &[("device/loads/1/duration_s", json!(duration_s))]));
        let (short, long) = (at(short_s), at(short_s * longer));
        for id in ["cells", "strips", "fuse", "switch", "lead", "plug"] {
            prop_assert!(rated_a(&long, id) <= rated_a(&short, id) * (1.0 + 1e-9), "{id} for {short_s} s and {longer} times that");
        }
    }

    #[test]
    fn no_link_bears_less_for_a_moment_than_for_good(duration_s in 0.01..9.9f64) {
        let path = path(&with(&sound(), &[("device/loads/1/duration_s", json!(duration_s))]));
        for link in &path.links {
            if let (Some(for_good_a), Some(moment_a)) = (link.continuous_a, link.peaks[0].limit_a) {
                prop_assert!(moment_a >= for_good_a * (1.0 - 1e-9), "{}: {moment_a} under {for_good_a}", link.id);
            }
        }
    }

    #[test]
    fn more_metal_bears_more_in_proportion_or_better(layers in 1..6u32, awg in 10..22i32) {
        let strips = |layers: u32| {
            let path = path(&with(&sound(), &[("strip/layers", json!(layers))]));
            (link(&path, "strips").continuous_a.unwrap(), rated_a(&path, "strips"))
        };
        let (one, more) = (strips(layers), strips(layers + 1));
        prop_assert!(more.0 > one.0);
        // Adiabatic heating goes by the cross-section alone: twice the metal, twice the current.
        let share = f64::from(layers + 1) / f64::from(layers);
        prop_assert!((more.1 / one.1 / share - 1.0).abs() < 1e-9);
        let wire = |awg: i32| link(&path(&with(&sound(), &[("lead/wire/part/size/awg", json!(awg))])), "lead").continuous_a.unwrap();
        prop_assert!(wire(awg - 2) > wire(awg), "two gauges thicker than {awg}");
    }

    /// The weakest link is the one that is used most; scaling every current scales every use.
    #[test]
    fn use_is_demand_over_limit_and_scales_with_the_load(load_a in 1.0..30.0f64, times in 1.1..3.0f64) {
        let at = |a: f64| path(&with(&sound(), &[
            ("device/loads/0/draw/value_a", known(a)),
            ("device/loads/1/draw/value_a", known(2.0 * a)),
        ]));
        let (light, heavy) = (at(load_a), at(load_a * times));
        for (a, b) in light.links.iter().zip(&heavy.links) {
            prop_assert!((b.used.unwrap() / a.used.unwrap() / times - 1.0).abs() < 1e-9, "{}", a.id);
        }
        let most = light.links.iter().map(|l| l.used.unwrap()).fold(0.0, f64::max);
        prop_assert_eq!(link(&light, light.weakest.as_deref().unwrap()).used.unwrap(), most);
    }
}

/// A charge link that is over its limit has a stop of its own, and one that is not has none.
#[test]
fn a_charge_link_over_its_limit_is_a_stop() {
    let cases = [
        ("jack", vec![("jack/continuous_a", json!(1.0))], "charging.over-jack@jack"),
        ("board", vec![("board/protects/charge_a", json!(1.0))], "charging.over-board"),
        (
            "cells",
            vec![
                ("charger", charger(16.8, 9.0)),
                ("board/protects/charge_a", json!(20.0)),
                ("jack/continuous_a", json!(20.0)),
            ],
            "charging.over-cells",
        ),
    ];
    for (id, changes, rule) in cases {
        let sound_path = path(&sound());
        assert!(!sound_path.charge.iter().find(|l| l.id == id).unwrap().over, "{id} is over in the sound plan");
        let assessment = assess(&with(&sound(), &changes)).unwrap();
        let over: Vec<&str> = assessment.path.charge.iter().filter(|l| l.over).map(|l| l.id.as_str()).collect();
        assert_eq!(over, [id]);
        let stop = assessment.findings.iter().find(|f| f.key == rule).unwrap_or_else(|| panic!("{rule} is missing"));
        assert_eq!(stop.severity, Severity::Stop);
    }
}

/// An accepted caution no longer marks its link, and comes back with the acceptance.
#[test]
fn an_accepted_caution_no_longer_marks_its_link() {
    let unkeyed = with(&sound(), &[("plug/keyed", json!(false))]);
    assert_eq!(link(&path(&unkeyed), "plug").severity, Some(Severity::Caution));
    let accepted = json!([{"finding": "wiring.unkeyed@plug", "reason": "marked with red paint"}]);
    assert_eq!(link(&path(&with(&unkeyed, &[("accepted", accepted)])), "plug").severity, None);
}
