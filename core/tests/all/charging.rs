//! The charge of whole plans: who may charge it, how full, how long, from what, and what was read at its contacts.

use crate::common;

use brick_core::assess::{Assessment, ChargeReport, assess, charge};
use brick_core::physics::charging::{ChargedBy, SetBy, Standing, Through};
use brick_core::plan::{Plan, apply};
use common::jobs::{entered, told};
use common::{chosen, known, module, offer, sound, with};
use serde_json::{Value, json};

fn of(changes: &[(&str, Value)]) -> (Assessment, ChargeReport) {
    let plan = with(&sound(), changes);
    (assess(&plan).unwrap(), charge(&plan).unwrap())
}

fn keys(assessment: &Assessment) -> Vec<&str> {
    assessment.findings.iter().map(|f| f.key.as_str()).collect()
}

fn stands(report: &ChargeReport, by: ChargedBy) -> Standing {
    report.ways.iter().find(|w| w.by == by).unwrap().stands
}

/// A module for two cells in series, fed from a supply.
fn fed_module(more: Value) -> Vec<(&'static str, Value)> {
    let mut charges = json!({"kind": "cc_cv", "output_v": known(8.4), "own_supply": false});
    for (key, value) in more.as_object().into_iter().flatten() {
        charges[key] = value.clone();
    }
    vec![
        ("packs/0/series", json!(2)),
        ("charger", module("charge module", json!({"charges": charges}))),
        ("supply", module("phone supply", json!({"supplies": {"output_v": 5.0, "output_a": 3.0}}))),
    ]
}

/// Whatever the job: charging is planned, or every way is judged and the wrong ones are refused with a reason.
#[test]
fn for_every_kind_of_job_charging_is_planned_or_refused_with_the_reason() {
    let mut wrong = vec![];
    for told in told() {
        let plan = entered(&told);
        let report = charge(&plan).unwrap();
        let mut say = |what: &str| wrong.push(format!("{}: {what}", told.name));
        if report.ways.len() != 6 || report.ways.iter().any(|w| !w.why.ends_with('.') || w.why.contains("NaN")) {
            say("a way without its reason");
        }
        if !report.ways.iter().any(|w| matches!(w.stands, Standing::Does | Standing::Minding)) {
            say("no way is left");
        }
        let planned = report.ways.iter().find(|w| w.chosen);
        let refused = planned.is_some_and(|w| w.stands == Standing::Refused);
        let stopped = assess(&plan)
            .unwrap()
            .findings
            .iter()
            .any(|f| f.severity == brick_core::assess::Severity::Stop && f.rule.starts_with("charging."));
        if refused && !stopped {
            say("planned what is refused, and nothing stops it");
        }
        if !refused && report.course.is_none() {
            say("neither a course nor a refusal");
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_parts_of_the_course_follow_one_another_and_end_with_the_charge() {
    let (assessment, report) = of(&[]);
    let course = report.course.unwrap();
    assert_eq!(course.parts.iter().map(|p| p.set_by).collect::<Vec<_>>(), [SetBy::Charger, SetBy::Cells]);
    assert!(course.parts.windows(2).all(|w| w[0].until_s == w[1].from_s && w[0].until_soc < w[1].until_soc));
    assert_eq!(course.parts.last().unwrap().until_s, course.full_s);
    let figure = |id: &str| assessment.figure(id).unwrap().value;
    assert_eq!(figure("charge.time_s"), course.full_s);
    assert_eq!(Some(figure("charge.most_s")), course.most_s);
    assert_eq!(figure("charge.cc_s"), course.parts[0].until_s);
    // 5 Ah at 2 A are two and a half hours, and the last bit goes in more slowly.
    assert!((2.5 * 3600.0..3.5 * 3600.0).contains(&course.full_s), "{}", course.full_s);
    assert!(course.points.iter().all(|p| p.pack_v <= 16.8 + 1e-9 && p.current_a <= 2.0 + 1e-9));
}

/// A module that begins carefully and a supply that cannot follow it each set a part of their own.
#[test]
fn a_careful_start_and_a_weak_supply_set_their_own_parts() {
    let mut changes = fed_module(json!({"output_a": 1.3, "pre_charge_a": 0.15}));
    changes.push(("supply/supplies/output_a", json!(2.0)));
    let (assessment, report) = of(&changes);
    let course = report.course.unwrap();
    let parts: Vec<SetBy> = course.parts.iter().map(|p| p.set_by).collect();
    assert_eq!(parts, [SetBy::PreCharge, SetBy::Charger, SetBy::Supply, SetBy::Cells]);
    // 5 V x 2 A x 0.88
    assert!(course.points.iter().all(|p| p.pack_v * p.current_a <= 8.8 + 1e-9));
    assert!(keys(&assessment).contains(&"charging.supply-weak"));
}

/// 2 A printed: as input 2 A x 5 V x 0.88 / 8.4 V = 1.05 A, as output 2 A; cells and supply are judged by the more.
#[test]
fn a_printed_current_of_unknown_side_is_a_band() {
    let (assessment, report) = of(&fed_module(json!({"printed_a": 2.0, "input_min_v": 4.5, "input_max_v": 12.0})));
    let current = assessment.figure("charger.output_a").unwrap();
    assert!((current.low.unwrap() - 1.0476).abs() < 1e-3 && current.high == Some(2.0) && current.assumed);
    assert!(keys(&assessment).contains(&"charging.unknown-side"));
    // 8.4 V x 2 A / 0.88 = 19.1 W: 3.8 A from 5 V, too much for 3 A.
    assert!(keys(&assessment).contains(&"charging.supply-weak"));
    let does = |name: &str| report.feeds.iter().find(|f| f.name == name).unwrap().enough;
    assert!(!does("USB-C, 3 A") && does("USB-C power delivery, 9 V"));
    let (stated, _) = of(&fed_module(json!({"printed_a": 2.0, "output_a": 1.2})));
    assert!(!keys(&stated).contains(&"charging.unknown-side"), "what is stated wins");
}

/// Half a metre of 28 AWG is 0.219 ohm both ways (ASTM B258: 212.9 ohm per km, 3 % more stranded): by hand 2.74 A from 5 V for 11.45 W.
#[test]
fn a_cable_takes_volts_on_the_way_to_the_module() {
    let mut changes = fed_module(json!({"output_a": 1.2, "efficiency": 0.88, "input_min_v": 4.5}));
    let wire = json!({"offer": offer("thin cable"), "insulation": "pvc", "size": {"standard": "awg", "awg": 28}, "bundled": false});
    changes.push(("runs/9/wire", json!({"state": "chosen", "part": wire})));
    changes.push(("runs/9/length_mm", json!(500.0)));
    let (assessment, report) = of(&changes);
    let figure = |id: &str| assessment.figure(id).unwrap().value;
    let (ohm, a, v) = (figure("supply.cable_ohm"), figure("supply.needed_a"), figure("supply.arrives_v"));
    assert!((ohm - 0.2129 * 1.03).abs() < 0.001, "{ohm}");
    assert!((a * v - 8.4 * 1.2 / 0.88).abs() < 1e-9 && (v - (5.0 - a * ohm)).abs() < 1e-12);
    assert!(v < 4.5 && keys(&assessment).contains(&"charging.supply-low"), "{v}");
    let usb_c = report.feeds.iter().find(|f| f.name == "USB-C, 3 A").unwrap();
    assert!(!usb_c.enough && usb_c.why.contains("arrives"), "{}", usb_c.why);
}

/// 8.43 V against 8.40 V is 0.36 % (common practice, no source).
#[test]
fn overshoot_is_told_in_percent() {
    let (assessment, _) = of(&fed_module(json!({"output_v": known(8.43), "output_a": 1.0})));
    let over = assessment.figure("charge.over_full").unwrap().value;
    assert!((over - 0.0036).abs() < 0.0001, "{over}");
    assert!(keys(&assessment).contains(&"charging.slightly-over"));
}

/// Four cells at 4.28, 4.25, 4.24 and 4.27 V sum to 17.04 V, and a supply at 17.0 V is 4.25 V a cell: over-charge.
#[test]
fn seventeen_volts_on_four_cells_are_an_over_charge() {
    let sum_v = [4.28, 4.25, 4.24, 4.27].iter().sum::<f64>();
    for volts in [17.0, sum_v] {
        let (assessment, _) = of(&[("charger/charges/output_v", known(volts))]);
        assert!(keys(&assessment).contains(&"charging.over-volts"), "{volts}");
    }
}

#[test]
fn a_row_of_the_end_volts_sets_the_charger_and_is_then_the_planned_one() {
    let plan = sound();
    let report = charge(&plan).unwrap();
    assert!(report.ends[0].chosen && report.ends[0].changes.is_empty());
    let row = report.ends.iter().find(|e| (e.end.cell_v - 4.1).abs() < 1e-9).unwrap();
    let lower: Plan = apply(&plan, &row.changes).unwrap();
    let after = charge(&lower).unwrap();
    assert!(after.ends.iter().find(|e| (e.end.cell_v - 4.1).abs() < 1e-9).unwrap().chosen);
    let assessment = assess(&lower).unwrap();
    let reached = assessment.figure("charge.reached").unwrap().value;
    assert!(
        (reached - row.end.kept_share * assess(&plan).unwrap().figure("charge.reached").unwrap().value).abs() < 0.01
    );
    assert!(keys(&assessment).contains(&"charging.below-full"));
    assert!((assessment.figure("charge.lives").unwrap().value - 2.0).abs() < 1e-9);
    let open = charge(&with(&plan, &[("charger", json!({"state": "open"}))])).unwrap();
    assert!(open.ends.iter().all(|e| e.changes.is_empty()), "nothing to set without a charger");
}

/// A hobby charger sees every cell over the tap plug: the charge may go round the board, and salvaged cells are levelled.
#[test]
fn a_hobby_charger_is_a_school_of_its_own() {
    let round_board = ("runs/7/to", json!("pack"));
    let salvaged = [("cell/origin", json!("salvaged")), ("board/protects/bleed_a", json!(0.0)), round_board];
    let (plain, _) = of(&salvaged);
    for key in ["protection.charger-round-board", "protection.no-balancing"] {
        assert!(keys(&plain).contains(&key), "{key}: {:?}", keys(&plain));
    }
    let hobby = [("charger/charges/balance_a", json!(0.4))];
    let (assessment, report) = of(&[&salvaged[..], &hobby[..]].concat());
    for key in ["protection.charger-round-board", "protection.no-balancing"] {
        assert!(!keys(&assessment).contains(&key), "{key}");
    }
    assert!(report.ways.iter().any(|w| w.by == ChargedBy::HobbyCharger && w.chosen));
    assert_eq!(stands(&report, ChargedBy::HobbyCharger), Standing::Does);
}

#[test]
fn the_old_charger_is_told_with_what_happens_when_it_is_plugged_in() {
    let (assessment, report) =
        of(&[("device/original/charger_fits", json!(true)), ("device/original/charger_v", known(21.0))]);
    let told = assessment.findings.iter().find(|f| f.key == "charging.old-charger-fits").unwrap();
    assert!(told.why.text.contains("21 V, past the 16.8 V"), "{}", told.why.text);
    assert_eq!(stands(&report, ChargedBy::OldCharger), Standing::Refused);
}

#[test]
fn contacts_are_read_by_the_sign_of_the_meter() {
    let (assessment, report) = of(&[(
        "charging",
        json!({"jack_v": known(15.9), "plug_v": known(16.8), "cells_v": known(15.95), "out_v": known(15.3)}),
    )]);
    assert!(keys(&assessment).is_empty());
    assert_eq!(report.contacts.jack, report.contacts.plug);
    assert_eq!(report.contacts.through, Some(Through::OneOff));
    let (turned, _) = of(&[("charging", json!({"jack_v": known(15.9), "plug_v": known(-16.8)}))]);
    assert!(keys(&turned).contains(&"charging.polarity"));
    let (dead, _) = of(&[("charging", json!({"jack_v": known(0.0), "plug_v": known(-16.8)}))]);
    assert!(!keys(&dead).contains(&"charging.polarity"), "a dead jack says nothing of polarity");
}

/// What was read of a module on arrival can be counted on: where it begins again, and what leaks back.
#[test]
fn the_readings_of_the_capacitor_test_become_figures_of_the_charger() {
    let arrivals = json!([
        {"place": "charger", "test": "restart", "part": "wall charger", "reading": known(16.1)},
        {"place": "charger", "test": "back-leak", "part": "wall charger", "reading": known(0.0001)},
    ]);
    let plan = with(&sound(), &[("arrivals", arrivals)]);
    let tests = brick_core::assess::arrival_tests(&plan).unwrap();
    let adopt: Vec<_> = tests.iter().flat_map(|p| &p.tests).flat_map(|t| t.adopt.clone()).collect();
    assert_eq!(adopt.len(), 2);
    let counted = assess(&apply(&plan, &adopt).unwrap()).unwrap();
    assert_eq!(counted.figure("charge.restart_v").unwrap().value, 16.1);
    // 5 Ah / 0.1 mA / 24 h = 2083 days
    assert!((counted.figure("charge.back_days").unwrap().value - 2083.3).abs() < 0.1);
    assert!(keys(&counted).is_empty());
}

#[test]
fn what_is_not_known_is_said_to_be_not_known() {
    let blank = Plan::blank("nothing yet");
    let report = charge(&blank).unwrap();
    assert!(report.course.is_none() && report.ends.is_empty() && report.feeds.is_empty());
    assert_eq!(stands(&report, ChargedBy::WallCharger), Standing::Unknown);
    assert_eq!(stands(&report, ChargedBy::Converter), Standing::Refused);
    let bad = with_jack(900.0);
    assert!(bad.iter().any(|e| e.field == "/charging/jack_v/value" && e.message.contains("500 V")), "{bad:?}");
}

fn with_jack(volts: f64) -> Vec<brick_core::plan::FieldError> {
    let mut plan = sound();
    plan.charging.jack_v = Some(brick_core::plan::Known::measured(volts));
    charge(&plan).unwrap_err()
}

/// A charge connector on the way is judged with the charge current, whichever way the charger is.
#[test]
fn the_jack_of_a_module_is_judged_too() {
    let mut changes = fed_module(json!({"output_a": 1.2}));
    let jack = json!({"offer": offer("thin jack"), "continuous_a": 1.0, "dc_v": 30.0, "keyed": true,
        "live_pins_bare": true, "contact_ohm": null});
    changes.push(("jack", chosen("connector", jack)));
    let (assessment, _) = of(&changes);
    assert!(keys(&assessment).contains(&"charging.over-jack@jack"));
    assert!(keys(&assessment).contains(&"wiring.bare-live-pins@jack"));
}
