//! Bringing groups level: what is asked first, what the volts say, and the bleeder against another solver's.

use crate::common;

use brick_core::assess::{assess, balance};
use brick_core::physics::balancing::{Leveller, Task, ways};
use common::{sound, with};
use serde_json::{Value, json};

fn read(volts: &[f64]) -> Value {
    volts.iter().map(|v| json!({"value": v, "how": "measured", "error": 0.002})).collect()
}

#[test]
fn it_says_what_must_be_known_before_groups_are_weighed() {
    let missing = |changes: &[(&str, Value)]| balance(&with(&sound(), changes)).unwrap().missing.unwrap_or_default();
    assert!(missing(&[]).contains("Read every group"));
    assert!(missing(&[("packs/0/group_v", read(&[3.9, 3.9]))]).contains("Read every group"), "two of four are not all");
    assert!(missing(&[("packs/0/series", json!(1))]).contains("Only cells in series"));
    assert!(missing(&[("packs/0/cell", json!({"state": "open"}))]).contains("Choose cells"));
}

#[test]
fn level_groups_bring_no_finding_and_uneven_ones_are_weighed_by_all_three_schools() {
    let level = with(&sound(), &[("packs/0/group_v", read(&[3.900, 3.901, 3.899, 3.900]))]);
    assert!(assess(&level).unwrap().findings.is_empty());
    let uneven = with(&sound(), &[("packs/0/group_v", read(&[3.90, 3.90, 3.90, 3.86]))]);
    let report = balance(&uneven).unwrap();
    let spread = report.spread.unwrap();
    assert_eq!(spread.groups.len(), 4);
    assert_eq!(spread.groups[3].above_ah, 0.0);
    assert!(spread.apart_ah > 0.05 && spread.apart_low_ah < spread.apart_ah);
    let left = |school| report.schools.iter().find(|s| s.way.school == school).unwrap().left_v;
    assert!(
        left(Leveller::HobbyCharger) <= left(Leveller::Bleeders) && left(Leveller::Bleeders) <= left(Leveller::Nobody)
    );
    // 0.3 A bleed against 5 Ah: the charge ends at a twentieth of that, 0.25 A.
    assert_eq!(report.holds, Some(true));
    let weak = with(&uneven, &[("board/protects/bleed_a", json!(0.2))]);
    assert_eq!(balance(&weak).unwrap().holds, Some(false));
}

/// A stack charged at 1 A with 68 ohm across one cell, by ngspice (reference/circuits): 61.4 mA and 0.257 W in the resistor. I = V / R at
/// full volts reaches both within 2 %.
#[test]
fn a_bleeder_takes_what_another_solver_says() {
    const SIMPLE: f64 = 0.02;
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../reference/circuits/results.json");
    let cases: Value = serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap();
    let mut compared = 0;
    for case in cases["cases"].as_array().unwrap().iter().filter(|c| c["kind"] == "bleed") {
        let number = |v: &Value| v.as_f64();
        let switch_ohm = case["inputs"]["switch_ohm"].as_f64().unwrap();
        for (i, ohm) in case["inputs"]["bleed_ohm"].as_array().unwrap().iter().enumerate() {
            let Some(ohm) = number(ohm) else { continue };
            let there = |what: &str| case["outputs"][what][i].as_f64().unwrap();
            let bleed_a = 4.2 / (ohm + switch_ohm);
            let task = Task {
                apart_ah: 0.1,
                above: 1,
                full_v: 4.2,
                bleed_a: Some(bleed_a),
                top_s: 1800.0,
                hobby_a: None,
                trickle_a: None,
            };
            let way = ways(&task).into_iter().find(|w| w.school == Leveller::Bleeders).unwrap();
            assert!((bleed_a / there("bleed_current_a") - 1.0).abs() < SIMPLE, "{case}");
            assert!((way.heat_each_w / there("bleed_resistor_power_w") - 1.0).abs() < 2.0 * SIMPLE, "{case}");
            compared += 1;
        }
    }
    assert_eq!(compared, 7);
}
