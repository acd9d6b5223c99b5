//! Verdicts that hang on the side of a converter, on what was read, on what nobody stated, on every position of two packs.

use crate::common;

use brick_core::Plan;
use brick_core::advise::misuse::{Prevented, misuses};
use brick_core::advise::suggest::options;
use brick_core::assess::{Severity, assess, balance, charge};
use brick_core::plan::NodeKind;
use common::{board, charger, demo_part, known, module, offer, sound, with};
use serde_json::{Value, json};

fn keys(plan: &Plan) -> Vec<String> {
    assess(plan).unwrap().findings.into_iter().map(|f| f.key).collect()
}

fn stops(plan: &Plan) -> Vec<String> {
    let found = assess(plan).unwrap().findings.into_iter();
    found.filter(|f| f.severity == Severity::Stop).map(|f| format!("{}: {}", f.key, f.why.text)).collect()
}

fn severity(plan: &Plan, key: &str) -> Option<Severity> {
    assess(plan).unwrap().findings.into_iter().find(|f| f.key == key).map(|f| f.severity)
}

fn value(plan: &Plan, id: &str) -> Option<f64> {
    assess(plan).unwrap().figure(id).map(|f| f.value)
}

fn groups(volts: &[f64]) -> Value {
    volts.iter().map(|v| json!({"value": v, "how": "measured", "error": 0.002})).collect()
}

/// One cell stepped up to 12 V for a lamp of 6 W: 0.5 A into the lamp, some 2.4 A from the cell.
fn stepped_up() -> Plan {
    with(
        &Plan::blank("Tent lamp"),
        &[
            ("device/kind", json!("electronics")),
            ("device/highest_v", known(14.0)),
            ("device/lowest_v", known(9.0)),
            ("device/loads", json!([{"id": "on", "name": "on", "draw": {"as": "power", "value_w": known(6.0)}}])),
            ("packs/0/chemistry", json!("li_ion")),
            ("packs/0/series", json!(1)),
            ("packs/0/parallel", json!(1)),
            ("packs/0/cell", json!({"state": "chosen", "part": common::cell()})),
            ("board", board(1)),
            (
                "converter",
                module(
                    "step-up",
                    json!({"converts": {"topology": "boost", "output_v": 12.0, "wired_in": false,
                    "efficiency": 0.88, "input_min_v": 2.5, "output_a": 1.0}}),
                ),
            ),
            ("fuse", json!({"state": "none"})),
            ("switch", json!({"state": "none"})),
            ("plug", json!({"state": "none"})),
            (
                "runs/6",
                json!({"id": "converter-device", "from": "converter", "to": "device", "length_mm": 200.0,
                    "wire": {"state": "chosen", "part": {"offer": offer("thin lead"), "insulation": "pvc",
                        "size": {"standard": "awg", "awg": 28}, "bundled": false}}}),
            ),
        ],
    )
}

#[test]
fn each_side_of_a_converter_is_judged_by_its_own_current() {
    let plan = stepped_up();
    let (battery_a, output_a) =
        (value(&plan, "load.continuous_a").unwrap(), value(&plan, "output.continuous_a").unwrap());
    assert!((output_a - 0.5).abs() < 1e-9 && battery_a > 2.0, "{battery_a} A and {output_a} A");
    assert!(value(&plan, "wire.limit_a@converter-device").unwrap() < battery_a, "the case would prove nothing");
    assert_eq!(stops(&plan), Vec::<String>::new(), "half an ampere through 28 AWG is no harm");
    // The same wire on the battery's side is.
    let run = json!({"id": "plug-converter", "from": "plug", "to": "converter", "length_mm": 200.0,
        "wire": {"state": "chosen", "part": {"offer": offer("thin lead"), "insulation": "pvc",
            "size": {"standard": "awg", "awg": 30}, "bundled": false}}});
    assert_eq!(
        severity(&with(&plan, &[("runs/5", run)]), "wiring.wire-over-current@plug-converter"),
        Some(Severity::Stop)
    );
    // What is lost behind it is lost of its own volts, and bends no sag of the pack.
    let long = with(&plan, &[("runs/6/length_mm", json!(2000.0))]);
    assert!(value(&long, "wire.output_drop_share").unwrap() > 0.03 && value(&long, "wire.drop_share").is_none());
    assert_eq!(value(&long, "path.ohm"), value(&plan, "path.ohm"));
}

#[test]
fn a_plug_and_a_switch_behind_a_converter_see_its_volts_and_its_current() {
    // Switch and plug moved behind it: pack - board - converter - switch - plug - device.
    let order =
        [("pack", "board"), ("board", "converter"), ("converter", "switch"), ("switch", "plug"), ("plug", "device")];
    let runs: Vec<Value> = order
        .iter()
        .map(|(from, to)| json!({"id": format!("{from}-{to}"), "from": from, "to": to, "wire": {"state": "none"}}))
        .collect();
    let contact = |amps: f64, volts: f64| {
        common::chosen(
            "switch",
            json!({"offer": offer("rocker"), "continuous_a": amps, "dc_v": volts, "contact_ohm": null}),
        )
    };
    let plan = with(&stepped_up(), &[("runs", json!(runs)), ("switch", contact(1.0, 13.0))]);
    assert_eq!(stops(&plan), Vec::<String>::new());
    assert_eq!(
        severity(&with(&plan, &[("switch", contact(0.4, 13.0))]), "wiring.switch-over-current@switch"),
        Some(Severity::Stop)
    );
    assert_eq!(
        severity(&with(&plan, &[("switch", contact(1.0, 6.0))]), "wiring.switch-volts@switch"),
        Some(Severity::Stop)
    );
}

#[test]
fn a_limit_that_was_computed_has_a_tolerance() {
    let limit_a = value(&sound(), "strip.limit_a").unwrap();
    let fuse = |amps: f64| with(&sound(), &[("fuse/rating_a", json!(amps))]);
    assert_eq!(severity(&fuse(limit_a * 0.999), "protection.fuse-above-strips"), None);
    assert_eq!(severity(&fuse(limit_a * 1.004), "protection.fuse-above-strips"), Some(Severity::Caution));
    assert_eq!(severity(&fuse(limit_a * 1.05), "protection.fuse-above-strips"), Some(Severity::Stop));
    // Full volts a few millivolts over a rating are no stop either; clearly over they are.
    for (dc_v, expected) in [(16.8, None), (16.77, Some(Severity::Caution)), (16.0, Some(Severity::Stop))] {
        let plan =
            with(&sound(), &[("plug/dc_v", json!(dc_v)), ("switch/dc_v", json!(dc_v)), ("fuse/dc_v", json!(dc_v))]);
        for key in ["wiring.connector-volts@plug", "wiring.switch-volts@switch", "protection.fuse-volts"] {
            assert_eq!(severity(&plan, key), expected, "{key} at {dc_v} V");
        }
    }
    // Typed against typed is exact.
    let load = |amps: f64| {
        with(&sound(), &[("device/loads/0/draw/value_a", known(amps)), ("board/protects/continuous_a", json!(9.0))])
    };
    assert_eq!(severity(&load(9.0), "protection.board-over-current"), None);
    assert_eq!(severity(&load(9.1), "protection.board-over-current"), Some(Severity::Stop));
}

#[test]
fn what_hangs_on_an_assumption_is_a_caution_that_says_what_to_measure() {
    let load = |how: &str| {
        let draw = json!({"value": 45.0, "how": how});
        with(&sound(), &[("device/loads/0/draw/value_a", draw), ("fuse/rating_a", json!(30.0))])
    };
    assert_eq!(severity(&load("measured"), "cells.over-rating"), Some(Severity::Stop));
    let assumed = assess(&load("assumed")).unwrap();
    let finding = assumed.findings.iter().find(|f| f.rule == "cells.over-rating").unwrap();
    assert_eq!(finding.severity, Severity::Caution);
    assert!(finding.why.text.contains("assumption") && finding.why.text.contains("Measure"), "{}", finding.why.text);
    // A meter that under-reads makes it worse, not doubtful.
    assert_eq!(severity(&load("lower_bound"), "cells.over-rating"), Some(Severity::Stop));
}

#[test]
fn a_reading_outranks_the_curve() {
    for (chemistry, over_v, full_v) in
        [("li_ion", 4.32, 4.2), ("li_hv", 4.43, 4.35), ("li_fe_po4", 3.80, 3.65), ("na_ion", 4.10, 3.95)]
    {
        let plan = |v: f64| {
            with(
                &sound(),
                &[
                    ("packs/0/chemistry", json!(chemistry)),
                    ("cell/chemistry", json!(chemistry)),
                    ("packs/0/group_v", groups(&[full_v - 0.02, v, full_v - 0.02, full_v - 0.02])),
                ],
            )
        };
        let over = plan(over_v);
        assert_eq!(severity(&over, "cells.over-charged@group-2"), Some(Severity::Stop), "{chemistry}");
        let all = keys(&over);
        assert!(
            all.iter().all(|k| k != "charging.groups-apart" && k != "charging.balancing-long"),
            "{chemistry}: {all:?}"
        );
        let told = balance(&over).unwrap();
        assert!(told.schools.is_empty() && told.missing.is_some(), "{chemistry}: a harmed cell is not levelled");
        assert_eq!(severity(&plan(full_v), "cells.over-charged@group-2"), None);
        assert!(!balance(&plan(full_v)).unwrap().schools.is_empty());
    }
    // Above full but below never: more charge than a full one, not as much.
    let spread =
        balance(&with(&sound(), &[("packs/0/group_v", groups(&[4.20, 4.24, 4.20, 4.20]))])).unwrap().spread.unwrap();
    assert!(spread.apart_ah > 0.01 && spread.groups[1].soc > 1.0, "{spread:?}");
}

#[test]
fn the_resistance_read_on_the_cells_is_that_of_the_pack() {
    let cell =
        |label: String, ohm: f64| json!({"label": label, "capacity_ah": 2.5, "resistance_ohm": ohm, "rested_v": 3.8});
    let chosen: Vec<Value> =
        (0..4).map(|g| json!({"cells": [cell(format!("A{g}"), 0.04), cell(format!("B{g}"), 0.06)]})).collect();
    // 40 and 60 milliohm side by side are 24; four of them in a row 96.
    let plan = with(&sound(), &[("packs/0/groups", json!(chosen))]);
    assert!((value(&plan, "pack.ohm").unwrap() - 0.096).abs() < 1e-12);
    assert!((value(&sound(), "pack.ohm").unwrap() - 0.036).abs() < 1e-12, "as stated: 4 / 2 × 18 milliohm");
    assert!(value(&plan, "run.time_s") < value(&sound(), "run.time_s"));
}

/// A device for 24 to 43 V on two of the sound plan's packs.
fn two_packs(second: Value) -> Plan {
    with(
        &sound(),
        &[
            ("device/original/series", json!(24)),
            ("device/highest_v", known(40.0)),
            ("device/lowest_v", known(22.0)),
            ("fuse/dc_v", json!(58.0)),
            ("plug/dc_v", json!(60.0)),
            ("switch/dc_v", json!(60.0)),
            ("feed/second", second),
        ],
    )
}

#[test]
fn packs_in_series_are_judged_together() {
    let plan = two_packs(json!({"used_in_series": true, "each_guarded": true, "break_before_make": true}));
    assert_eq!(stops(&plan), Vec::<String>::new(), "a sound plan of twice four cells");
    let one = |id: &str| value(&sound(), id).unwrap();
    let two = |id: &str| value(&plan, id).unwrap();
    assert!((two("line.full_v") - 2.0 * one("pack.full_v")).abs() < 1e-9 && two("pack.full_v") == one("pack.full_v"));
    assert!((two("line.ohm") - 2.0 * one("pack.ohm")).abs() < 1e-12);
    assert_eq!(two("line.ah"), one("pack.ah"));
    assert!((two("line.wh") - 2.0 * one("pack.wh")).abs() < 1e-9);
    assert!(
        two("cutoff.set_v") > 20.0,
        "a cut-off of {} V would take the cells to {} V",
        two("cutoff.set_v"),
        two("cutoff.set_v") / 8.0
    );
    // A smaller second pack ends the run for both.
    let small = two_packs(json!({"used_in_series": true, "each_guarded": true, "capacity_ah": 2.0}));
    assert!(value(&small, "run.time_s").unwrap() < 0.5 * two("run.time_s"));
    let simulated = |plan: &Plan| {
        brick_core::assess::runs(plan, &[Default::default()], Default::default(), None).unwrap().runs[0].time_s
    };
    assert!(
        (simulated(&plan) / two("run.time_s") - 1.0).abs() < 0.15,
        "{} s against {} s",
        simulated(&plan),
        two("run.time_s")
    );
    assert!(simulated(&small) < 0.5 * simulated(&plan));
}

#[test]
fn a_guard_is_added_to_the_second_pack_and_never_ticked() {
    let demo = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/catalogue.json")).unwrap();
    let catalogue = brick_core::Catalogue::from_json(&demo).unwrap();
    for (said, key) in [
        (json!({"used_in_series": true, "each_guarded": false}), "voltage.second-unguarded"),
        (json!({"used_in_series": true}), "voltage.second-unguarded"),
        (json!({"used_in_series": true, "each_guarded": false, "capacity_ah": 4.0}), "voltage.packs-unequal"),
    ] {
        let plan = two_packs(said.clone());
        let found = brick_core::fixes(&plan, &catalogue, key).unwrap();
        let fix = found.first().unwrap_or_else(|| panic!("{said}: nothing clears {key}"));
        assert!(fix.changes.iter().all(|c| !c.at.contains("each_guarded")), "{said}: {:?}", fix.changes);
        let guarded = brick_core::plan::apply(&plan, &fix.changes).unwrap();
        let second = guarded.feed.second.clone().unwrap();
        assert_eq!(second.guard().and_then(|m| m.protects.as_ref()).and_then(|b| b.series), Some(4), "{}", fix.label);
        assert!(assess(&guarded).unwrap().findings.iter().all(|f| f.key != key));
        let lines = brick_core::advise::bill::bill(&guarded, &catalogue).unwrap().lines;
        let bought = |plan_line: &str| lines.iter().find(|l| l.name == plan_line).map(|l| l.count);
        assert!(bought(&second.guard().unwrap().offer.name).is_some_and(|n| n >= 1.0), "it is on the parts list");
        // Without one in the first, the guard of the second is not enough: the first is named.
        let half = with(&guarded, &[("board", json!({"state": "none"}))]);
        let left = assess(&half).unwrap().findings;
        let why = left.iter().find(|f| f.key == key).map(|f| f.why.text.clone()).unwrap_or_default();
        assert!(key != "voltage.second-unguarded" || why.contains("The first goes on"), "{why}");
    }
}

#[test]
fn every_position_of_two_packs_is_judged() {
    let both = json!({"used_in_series": true, "used_in_parallel": true, "each_guarded": true, "break_before_make": true,
        "first_rest_v": known(16.2), "rest_v": known(16.2)});
    let found = assess(&two_packs(both.clone())).unwrap().findings;
    let parallel =
        found.iter().find(|f| f.key.starts_with("voltage.loaded-below-device+")).expect("in parallel it is too low");
    assert!(parallel.title.text.ends_with("in parallel"), "{}", parallel.title.text);
    assert_eq!(parallel.follows.as_deref(), Some("voltage.parallel-never-runs"));
    // A device that lives on both is quiet in both.
    let wide = with(&two_packs(both), &[("device/lowest_v", known(11.0)), ("device/kind", json!("electronics"))]);
    assert_eq!(stops(&wide), Vec::<String>::new());
    let alone = two_packs(
        json!({"used_in_parallel": true, "each_guarded": true, "first_rest_v": known(16.2), "rest_v": known(16.2)}),
    );
    let doubled = with(
        &alone,
        &[("device/lowest_v", known(11.0)), ("device/original/series", json!(12)), ("device/highest_v", known(17.0))],
    );
    assert!(
        (value(&doubled, "line.ah").unwrap() - 10.0).abs() < 1e-9
            && (value(&doubled, "line.ohm").unwrap() - 0.018).abs() < 1e-12
    );
    assert!(value(&doubled, "run.time_s").unwrap() > 1.9 * value(&sound(), "run.time_s").unwrap());
}

#[test]
fn an_option_of_two_packs_invents_no_guard() {
    let plan = with(&sound(), &[("packs/0/series", Value::Null)]);
    let switched = options(&plan).unwrap().options.into_iter().find(|o| o.name.contains("switched")).unwrap();
    let chosen = brick_core::plan::apply(&plan, &switched.changes).unwrap();
    let second = chosen.feed.second.unwrap();
    assert_eq!((second.each_guarded, second.break_before_make), (None, None));
}

#[test]
fn a_jumper_never_takes_a_part_off_the_line() {
    let plan = with(&sound(), &[("runs", common::flaws::with_run("jumper", "pack", "switch"))]);
    let way = plan.path(NodeKind::Pack, NodeKind::Device, brick_core::plan::StateName::Running);
    let ids: Vec<&str> = way.nodes.iter().map(|n| n.id.as_str()).collect();
    assert_eq!(ids, ["pack", "board", "fuse", "switch", "plug", "device"]);
    let found = assess(&plan).unwrap().findings;
    for rule in ["protection.no-over-current", "voltage.no-guard"] {
        let finding = found.iter().find(|f| f.rule == rule).unwrap_or_else(|| panic!("{rule} is missing"));
        assert!(finding.why.text.contains("a wire from the pack to the switch"), "{}", finding.why.text);
    }
}

#[test]
fn a_broken_circuit_is_told_as_that() {
    let mut runs = serde_json::to_value(sound()).unwrap()["runs"].as_array().unwrap().clone();
    runs.retain(|run| run["id"] != "board-fuse");
    let all = keys(&with(&sound(), &[("runs", json!(runs))]));
    assert!(all.contains(&"wiring.no-way".to_owned()), "{all:?}");
    assert!(all.iter().all(|k| !k.starts_with("protection.no-over") && k != "voltage.no-guard"), "{all:?}");
}

#[test]
fn prevented_is_only_what_acts_before_the_cells_are_harmed() {
    let how = |plan: &Plan, id: &str| misuses(plan).unwrap().into_iter().find(|m| m.id == id).unwrap().prevented;
    assert_eq!(how(&sound(), "left-on"), Prevented::ByDesign);
    // A device that merely stops at 2.2 V a cell, and no board, prevents nothing.
    let cutout = with(
        &sound(),
        &[("board", json!({"state": "none"})), ("device/cutout_v", known(8.8)), ("device/lowest_v", known(8.0))],
    );
    assert_eq!(how(&cutout, "left-on"), Prevented::ByLabel);
    // What stays connected takes the rest in days.
    let thirsty = with(&sound(), &[("board/standby_a", json!(0.004))]);
    assert_eq!(how(&thirsty, "left-on"), Prevented::ByLabel);
    assert_eq!(how(&sound(), "other-charger"), Prevented::ByLabel, "4.28 V is above what a cell bears");
    let early = with(&sound(), &[("board/protects/over_charge_v", json!(4.25))]);
    assert_eq!(how(&early, "other-charger"), Prevented::ByDesign);
    let round = with(&early, &[("runs", common::flaws::with_run("round", "jack", "pack"))]);
    assert_eq!(how(&round, "other-charger"), Prevented::ByLabel);
}

#[test]
fn left_on_every_drain_counts() {
    let plan = with(
        &sound(),
        &[
            ("device/proving", json!({"idle_a": known(0.002)})),
            ("alarm", module("buzzer", json!({"alarms": {"at_cell_v": 3.3}, "standby_a": 0.001}))),
            ("feed/gauge", json!({"top_ohm": 10_000.0, "bottom_ohm": 3_300.0, "series": "e24"})),
        ],
    );
    let divider_a = value(&plan, "gauge.drain_a").unwrap();
    assert!((value(&plan, "pack.left_on_a").unwrap() - (0.002 + 0.001 + 30e-6 + divider_a)).abs() < 1e-9);
}

#[test]
fn each_chemistry_charges_by_its_own_cold() {
    let plan = |chemistry: &str, coldest_c: f64, amps: f64| {
        let facts_v = |c: &str| match c {
            "li_titanate" => 2.8,
            "na_ion" => 3.95,
            _ => 4.2,
        };
        with(
            &sound(),
            &[
                ("packs/0/chemistry", json!(chemistry)),
                ("cell/chemistry", json!(chemistry)),
                ("board/protects/senses_temperature", json!(false)),
                ("charger", charger(4.0 * facts_v(chemistry), amps)),
                ("environment/charge_min_c", json!(coldest_c)),
            ],
        )
    };
    let cold = |chemistry, c, a| {
        let found = assess(&plan(chemistry, c, a)).unwrap().findings;
        found
            .into_iter()
            .find(|f| f.rule == "charging.freezing" || f.rule == "charging.cold-fast")
            .map(|f| (f.rule, f.why.text))
    };
    assert_eq!(cold("li_titanate", -20.0, 2.0), None);
    assert!(cold("na_ion", -20.0, 2.0).is_some_and(|(_, why)| why.contains("Sodium") && !why.contains("Lithium")));
    assert_eq!(cold("na_ion", -5.0, 1.0), None);
    assert!(cold("li_ion", -1.0, 1.0).is_some_and(|(rule, _)| rule == "charging.freezing"));
    assert!(cold("li_ion", 2.0, 4.0).is_some_and(|(rule, _)| rule == "charging.cold-fast"));
    assert_eq!(cold("li_ion", 2.0, 1.0), None, "a fifth of the capacity an hour is slow");
    assert_eq!(cold("li_ion", 10.0, 4.0), None);
}

#[test]
fn what_cannot_be_is_told_as_what_it_means() {
    // 300 A of a tired pack of 25 milliohm a cell: no volts are left, and none are shown.
    let plan = with(
        &sound(),
        &[("device/loads/1/draw/value_a", known(900.0)), ("cell/pulse_a", Value::Null), ("cell/dcir_ohm", known(0.08))],
    );
    let assessment = assess(&plan).unwrap();
    let told = assessment.findings.iter().find(|f| f.rule == "run.brown-out").unwrap();
    assert!(told.title.text.contains("cannot deliver") && !told.why.text.contains('−'), "{}", told.why.text);
    for id in ["run.peak_v", "run.loaded_full_v", "run.loaded_empty_v", "run.loaded_nominal_v"] {
        assert!(assessment.figure(id).is_none_or(|f| f.value > 0.0), "{id}");
    }
    // No pulse rating is no rating of the continuous current.
    let unstated = with(
        &sound(),
        &[("cell/pulse_a", Value::Null), ("cell/pulse_s", Value::Null), ("cell/discharge_a", json!(12.0))],
    );
    assert!(value(&unstated, "cells.peak_limit_a").is_none() && keys(&unstated).is_empty(), "{:?}", keys(&unstated));
}

#[test]
fn a_usb_c_plug_is_the_same_both_ways_round() {
    let jack = |name: &str| {
        common::chosen(
            "connector",
            json!({"offer": offer(name), "continuous_a": 5.0, "dc_v": 30.0, "keyed": false,
            "live_pins_bare": false, "contact_ohm": null}),
        )
    };
    assert!(keys(&with(&sound(), &[("jack", jack("USB-C socket"))])).is_empty());
    assert_eq!(keys(&with(&sound(), &[("jack", jack("round jack"))])), ["wiring.unkeyed@jack"]);
}

/// A jack before a charge module in the device carries what the module takes, not what it gives.
#[test]
fn the_socket_of_a_module_carries_its_input() {
    let charge = |own_supply: bool| {
        module(
            "charge module",
            json!({"charges": {"kind": "cc_cv", "output_v": known(16.8), "output_a": 1.0, "efficiency": 0.9,
            "own_supply": own_supply}}),
        )
    };
    let supply = module("phone supply", json!({"supplies": {"output_v": 5.0, "output_a": 5.0}}));
    let jack = |amps: f64| {
        common::chosen(
            "connector",
            json!({"offer": offer("socket"), "continuous_a": amps, "dc_v": 30.0,
        "keyed": true, "live_pins_bare": false, "contact_ohm": null}),
        )
    };
    // 16.8 W at 90 % are 3.7 A from 5 V.
    let plan = with(&sound(), &[("charger", charge(false)), ("supply", supply), ("jack", jack(3.0))]);
    assert_eq!(severity(&plan, "charging.over-jack@jack"), Some(Severity::Stop));
    assert_eq!(severity(&with(&plan, &[("jack", jack(4.0))]), "charging.over-jack@jack"), None);
    let wall = with(&sound(), &[("charger", charge(true)), ("jack", jack(1.5))]);
    assert_eq!(severity(&wall, "charging.over-jack@jack"), None);
}

#[test]
fn a_board_closed_over_a_little_resistance_is_not_open() {
    let contacts = |out_v: f64| {
        let plan = with(&sound(), &[("charging/cells_v", known(15.30)), ("charging/out_v", known(out_v))]);
        charge(&plan).unwrap().contacts.says.unwrap()
    };
    assert!(contacts(15.23).contains("closed") && !contacts(15.23).contains("open"), "{}", contacts(15.23));
    assert!(contacts(14.7).contains("diode") && contacts(3.0).contains("open"));
}

#[test]
fn a_pack_that_is_taken_out_charges_without_the_device() {
    let none = |id: &'static str| (id, json!({"state": "none"}));
    let wired = with(&sound(), &[none("switch")]);
    assert!(keys(&wired).contains(&"charging.load-on".to_owned()));
    assert!(keys(&with(&wired, &[("charging/taken_out", json!(true))])).is_empty());
}

#[test]
fn an_option_says_how_much_of_the_charge_lies_in_the_window() {
    // 2.8 to 4.2 V: sodium goes down to 2.0 V, a third of its charge lies below.
    let plan = with(
        &Plan::blank("Sensor"),
        &[
            ("device/kind", json!("electronics")),
            ("device/original", json!({"chemistry": "li_ion", "series": 1})),
            ("device/lowest_v", known(2.8)),
            ("device/highest_v", known(4.2)),
        ],
    );
    let found = options(&plan).unwrap().options;
    let sodium = found.iter().find(|o| o.name == "1S Na-ion, direct").unwrap();
    assert!(sodium.usable_share.is_some_and(|s| s < 0.85) && sodium.worst == Some(Severity::Caution), "{sodium:?}");
    assert!(sodium.reasons.iter().all(|r| !r.text.contains("its whole range fits")));
    let cobalt = found.iter().find(|o| o.name == "1S Li-ion, direct").unwrap();
    assert!(cobalt.usable_share.is_some_and(|s| s > 0.9), "{:?}", cobalt.usable_share);
    // What its user turns is made by a converter.
    let workspace = with(&plan, &[("device/job", json!("bench_supply"))]);
    assert!(options(&workspace).unwrap().options.iter().all(|o| o.output_v.is_some()));
}

#[test]
fn consequences_are_tied_to_their_cause() {
    let plan = with(&sound(), &[("lead/wire/part/size/awg", json!(24)), ("lead/length_mm", json!(100.0))]);
    let found = assess(&plan).unwrap().findings;
    let follows = |key: &str| found.iter().find(|f| f.key == key).unwrap_or_else(|| panic!("{key}")).follows.clone();
    assert_eq!(follows("wiring.wire-over-current@lead"), None);
    for key in ["protection.fuse-above-wire@lead", "wiring.thinner-than-before@lead"] {
        assert_eq!(follows(key).as_deref(), Some("wiring.wire-over-current@lead"), "{key}");
    }
    for finding in &found {
        let Some(cause) = &finding.follows else { continue };
        assert!(
            found.iter().any(|f| &f.key == cause && f.severity >= finding.severity),
            "{} follows nothing",
            finding.key
        );
    }
}

#[test]
fn a_fuse_of_the_catalogue_serves_the_sound_plan_as_before() {
    let plan = with(&sound(), &[("fuse", demo_part("fuse-blade-15"))]);
    assert!(keys(&plan).is_empty(), "{:?}", keys(&plan));
}

/// Over by less than can be told is a note, so that what the path shows as used up is said somewhere; over by more a caution.
#[test]
fn a_fuse_that_is_over_by_less_than_can_be_told_is_a_note() {
    let at = |load_a: f64| {
        let plan = with(&sound(), &[("device/loads/0/draw/value_a", known(load_a))]);
        assess(&plan).unwrap()
    };
    let carries_a = at(9.0).figure("fuse.carries_a").unwrap().value;
    let said = |share: f64| {
        at(carries_a * share).findings.iter().find(|f| f.rule == "protection.fuse-nuisance").map(|f| f.severity)
    };
    assert_eq!((said(0.999), said(1.01), said(1.05)), (None, Some(Severity::Note), Some(Severity::Caution)));
}
