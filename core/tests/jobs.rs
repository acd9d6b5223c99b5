//! Every kind of job a maker brings can be entered with what is special about it, and the program notices that.

mod common;

use std::collections::BTreeSet;

use brick_core::assess::{Assessment, assess};
use brick_core::{Plan, plan};
use common::{board, charger, known, module, sound, with};
use serde_json::{Value, json};

/// A job with its special points: as it is entered, what is noticed, what is asked.
struct Told {
    job: &'static str,
    name: &'static str,
    entered: Vec<(&'static str, Value)>,
    notices: &'static [&'static str],
    asks: &'static [&'static str],
}

fn none() -> Value {
    json!({"state": "none"})
}

fn original(chemistry: &str, series: u32) -> Value {
    json!({"chemistry": chemistry, "series": series, "cells_fit": false, "charger_fits": false})
}

fn loads(usual: Value, start: Value) -> Value {
    json!([{"id": "usual", "name": "usual", "draw": usual},
        {"id": "start", "name": "start", "draw": start, "duration_s": 0.4}])
}

fn amps(value_a: f64) -> Value {
    json!({"as": "current", "value_a": known(value_a)})
}

fn converter(topology: &str, output_v: f64, more: Value) -> Value {
    let mut converts = json!({"topology": topology, "output_v": output_v, "wired_in": false, "efficiency": 0.88});
    for (key, value) in more.as_object().into_iter().flatten() {
        converts[key] = value.clone();
    }
    module("converter", json!({"converts": converts}))
}

/// The same module with a current it draws at rest.
fn idle(mut part: Value, standby_a: f64) -> Value {
    part["part"]["module"]["standby_a"] = json!(standby_a);
    part
}

fn told() -> Vec<Told> {
    vec![
        Told {
            job: "handheld_with_gauge",
            name: "removable two-series pack gets a jack and a balancing board on the charge side",
            entered: vec![
                ("device/original", original("li_ion", 2)),
                ("device/label", json!("8.4 V max")),
                ("device/highest_v", json!({"value": 8.4, "how": "stated"})),
                ("device/lowest_v", known(6.0)),
                ("device/loads", loads(amps(1.5), amps(3.0))),
                (
                    "device/compartments",
                    json!([{"id": "bay", "name": "beside the bay",
                    "space": {"shape": "box", "length_mm": 60.0, "width_mm": 22.0, "depth_mm": 9.0},
                    "openings": [{"purpose": "jack", "hole_mm": 8.0, "behind_mm": 14.0, "wall_mm": 2.0}]}]),
                ),
                (
                    "device/apart",
                    json!([{"id": "taps", "what": "Tap minus, middle and plus at the pack plug", "pulls_wire": true,
                    "live": "always"}]),
                ),
                ("packs/0/series", json!(2)),
                ("board", board(2)),
                ("charger", charger(8.4, 1.0)),
            ],
            notices: &[],
            asks: &["Whether it lives"],
        },
        Told {
            job: "recelling",
            name: "two-series charge module fed from five volts, judged on arrival",
            entered: vec![
                ("packs/0/series", json!(2)),
                (
                    "charger",
                    module(
                        "charge module",
                        json!({"charges": {"kind": "cc_cv", "output_v": known(8.46),
                    "output_a": null, "own_supply": false}}),
                    ),
                ),
                ("supply", module("phone supply", json!({"supplies": {"output_v": 5.0, "output_a": 2.0}}))),
            ],
            notices: &["charging.slightly-over"],
            asks: &["is the rated current input or output?", "What the small contacts of the pack carry"],
        },
        Told {
            job: "handheld_with_gauge",
            name: "four primary cells replaced by one flat cell and a boost converter",
            entered: vec![
                ("device/original", json!({"chemistry": "alkaline", "series": 4, "cells_fit": true})),
                ("device/highest_v", known(6.4)),
                ("device/lowest_v", known(4.0)),
                ("device/loads", loads(amps(0.1), amps(0.3))),
                (
                    "device/brains",
                    json!({"alarms": [{"name": "low", "at_v": known(4.4)}, {"name": "empty", "at_v": known(4.0)}]}),
                ),
                ("packs/0/series", json!(1)),
                (
                    "feed/gauge",
                    json!({"top_ohm": 100_000.0, "bottom_ohm": 33_000.0, "input_ohm": 1_000_000.0, "series": "e24",
                    "always_on": true}),
                ),
                ("converter", converter("boost", 5.0, json!({"wired_in": true}))),
                ("board", board(1)),
                ("charger", charger(4.2, 1.0)),
            ],
            notices: &["device.old-cells-fit", "voltage.set-point-unread", "voltage.unpowered-pin"],
            asks: &["Set point of the converter"],
        },
        Told {
            job: "pump",
            name: "lead-acid machine on two tool packs, switchable series or parallel",
            entered: vec![
                ("device/original", original("lead_acid", 12)),
                ("device/highest_v", known(43.0)),
                ("device/lowest_v", known(20.0)),
                ("device/cutout_v", known(22.0)),
                (
                    "device/brains",
                    json!({"selector": true, "selector_low_v": known(20.0), "soft_start": true,
                    "soft_start_kept": false}),
                ),
                (
                    "device/loads",
                    loads(amps(8.0), json!({"as": "current", "value_a": {"value": 19.0, "how": "lower_bound"}})),
                ),
                (
                    "feed/second",
                    json!({"used_in_series": true, "used_in_parallel": true, "capacity_ah": 4.0,
                    "break_before_make": false, "first_rest_v": known(20.6), "rest_v": known(19.2)}),
                ),
                ("packs/0/series", json!(5)),
                ("board", board(5)),
                ("charger", charger(21.0, 2.0)),
            ],
            notices: &[
                "device.lower-setting-never-runs",
                "device.soft-start-bypassed",
                "protection.fuse-volts",
                "voltage.parallel-never-runs",
                "voltage.make-before-break",
                "voltage.packs-apart",
                "voltage.packs-unequal",
            ],
            asks: &["The true peak"],
        },
        Told {
            job: "recelling",
            name: "small protection board re-made for a higher trip",
            entered: vec![
                ("board/protects/trip_a", json!({"value": 24.0, "how": "measured", "error": 5.0})),
                ("board/standby_a", json!(0.000_012)),
            ],
            notices: &["protection.trip-in-peak"],
            asks: &[],
        },
        Told {
            job: "instrument_with_charger",
            name: "three small cells in a handle replaced by a hobby pack on a plug, only an alarm on guard",
            entered: vec![
                ("device/original/cells_fit", json!(true)),
                ("packs/0/chemistry", json!("li_po")),
                ("cell/chemistry", json!("li_po")),
                ("cell/origin", json!("hobby")),
                ("board", none()),
                ("alarm", module("buzzer", json!({"alarms": {"at_cell_v": 3.4}}))),
            ],
            notices: &["device.old-cells-fit", "voltage.alarm-only"],
            asks: &["Whether it charges its battery itself"],
        },
        Told {
            job: "instrument_with_charger",
            name: "lead-acid instrument pack replaced by up to three cells in parallel behind a boost",
            entered: vec![
                ("device/original", original("lead_acid", 3)),
                ("device/highest_v", known(7.2)),
                ("device/lowest_v", known(5.6)),
                ("device/brains", json!({"charges_itself": true, "charge_v": known(7.25)})),
                ("device/loads", loads(amps(0.4), amps(1.0))),
                ("packs/0/series", json!(1)),
                ("packs/0/parallel", json!(3)),
                ("converter", converter("boost", 6.2, json!({"set_point_v": known(6.21)}))),
                (
                    "feed/change_over",
                    json!({"by": "ideal_diode", "host_charging_v": known(7.25), "host_on_battery_v": known(6.2),
                    "threshold_v": 6.7, "hysteresis_v": 0.01}),
                ),
                ("board", board(1)),
                ("charger", charger(4.2, 1.0)),
            ],
            notices: &["charging.host-charges", "voltage.comparator-chatter"],
            asks: &[],
        },
        Told {
            job: "pump",
            name: "pump on a five-series tool pack through a cut-off board and a step-down, in the wet",
            entered: vec![
                ("device/highest_v", known(14.4)),
                ("device/surroundings", json!({"wet": true, "vented": true})),
                ("packs/0/series", json!(5)),
                ("board", board(5)),
                ("charger", charger(21.0, 2.0)),
                ("cutoff", module("cut-off board", json!({"cuts_off": {"at_v": 15.5, "rearm_v": 15.6}}))),
                ("converter", converter("buck", 12.0, json!({"set_point_v": known(12.9)}))),
            ],
            notices: &["device.vented-in-the-wet", "protection.cutoff-chatter", "voltage.set-point-off"],
            asks: &["Whether a selector sets series or parallel"],
        },
        Told {
            job: "motor_tool",
            name: "a bleeder against the charge current",
            entered: vec![("board/protects/bleed_a", json!(0.05)), ("charger", charger(16.8, 4.0))],
            notices: &["protection.bleed-weak"],
            asks: &[],
        },
        Told {
            job: "toy_or_model",
            name: "toy's two phosphate cells replaced by two of another chemistry",
            entered: vec![
                (
                    "device/original",
                    json!({"chemistry": "li_fe_po4", "series": 2, "charger_fits": true, "cells_fit": false,
                    "wire": {"standard": "awg", "awg": 10}, "charger_v": known(7.3)}),
                ),
                ("device/highest_v", json!(null)),
                ("device/lowest_v", known(5.0)),
                ("device/connector", json!("flat two-pole plug, the new pack has a round one")),
                ("device/surroundings", json!({"shocks": true, "wet": true})),
                (
                    "device/compartments",
                    json!([{"id": "tray", "name": "tray",
                    "space": {"shape": "box", "length_mm": 110.0, "width_mm": 36.0, "depth_mm": 28.0},
                    "obstructions": [{"name": "wall for the lamp", "length_mm": 2.0, "width_mm": 36.0, "depth_mm": 28.0}]}]),
                ),
                ("packs/0/series", json!(2)),
                ("board", board(2)),
                ("charger", charger(8.4, 2.0)),
            ],
            notices: &["charging.old-charger-fits", "wiring.thinner-than-before@lead", "device.highest-assumed"],
            asks: &["Highest volts"],
        },
        Told {
            job: "standby_supply",
            name: "standby supply with one converter as charger and one as output",
            entered: vec![
                ("device/original", original("lead_acid", 6)),
                ("device/highest_v", known(13.8)),
                ("device/lowest_v", known(11.0)),
                ("packs/0/series", json!(3)),
                ("board", board(3)),
                (
                    "charger",
                    module(
                        "step-down as charger",
                        json!({"charges": {"kind": "fixed_volts", "output_v": known(12.6),
                    "output_a": 3.0, "own_supply": false}}),
                    ),
                ),
                ("supply", module("old wall supply", json!({"supplies": {"output_v": 18.0, "output_a": 3.0}}))),
                ("converter", converter("buck_boost", 12.0, json!({"set_point_v": known(16.1), "sheds_w": 2.0}))),
                ("feed/change_over", json!({"by": "relay", "hold_up_f": 0.0047})),
            ],
            notices: &[
                "charging.no-current-limit",
                "voltage.set-point-off",
                "voltage.converter-heat",
                "voltage.hold-up-small",
            ],
            asks: &["Whether it charges its battery itself"],
        },
        Told {
            job: "power_bank",
            name: "eight cells in parallel on a power-bank controller",
            entered: vec![
                ("device/original", json!({})),
                ("device/highest_v", known(5.25)),
                ("device/lowest_v", known(4.5)),
                ("device/loads", loads(json!({"as": "power", "value_w": known(15.0)}), amps(3.4))),
                ("packs/0/series", json!(1)),
                ("packs/0/parallel", json!(8)),
                ("cell/rated_ah", json!(9.8)),
                ("converter", converter("boost", 5.0, json!({"set_point_v": known(5.02)}))),
                ("board", board(1)),
                ("charger", charger(4.2, 2.0)),
            ],
            notices: &["cells.impossible-claim"],
            asks: &[],
        },
        Told {
            job: "motor_tool",
            name: "six nickel cells: two in series straight into it",
            entered: vec![
                ("device/original", original("nickel", 6)),
                ("device/highest_v", json!(null)),
                ("device/lowest_v", json!(null)),
                ("packs/0/series", json!(2)),
                ("board", board(2)),
                ("charger", charger(8.4, 2.0)),
            ],
            notices: &["device.highest-assumed", "voltage.full-in-tolerance"],
            asks: &["Highest volts", "Lowest volts"],
        },
        Told {
            job: "motor_tool",
            name: "six nickel cells: one cell and a regulated converter without a switch",
            entered: vec![
                ("device/original", original("nickel", 6)),
                ("device/highest_v", known(8.4)),
                ("device/lowest_v", known(6.0)),
                ("device/loads", loads(amps(0.5), amps(1.5))),
                ("packs/0/series", json!(1)),
                ("packs/0/parallel", json!(1)),
                ("switch", none()),
                ("converter", idle(converter("boost", 7.2, json!({"set_point_v": known(7.2)})), 0.004)),
                ("board", board(1)),
                ("charger", charger(4.2, 1.0)),
            ],
            notices: &["voltage.standby-drain"],
            asks: &[],
        },
        Told {
            job: "bench_supply",
            name: "adjustable bench supply from two cells in series",
            entered: vec![
                ("device/original", json!({})),
                ("device/highest_v", known(15.0)),
                ("device/lowest_v", known(1.2)),
                ("device/loads", loads(amps(2.0), amps(3.0))),
                ("packs/0/series", json!(2)),
                (
                    "converter",
                    converter(
                        "buck_boost",
                        12.0,
                        json!({"set_point_v": known(12.0), "wired_in": true, "output_a": 1.5, "adjustable": true, "fixed_socket": true, "adjuster_on_leads": true}),
                    ),
                ),
                ("board", board(2)),
                ("charger", charger(8.4, 2.0)),
            ],
            notices: &["voltage.converter-output-current", "voltage.fixed-socket", "voltage.adjuster-open"],
            asks: &[],
        },
        Told {
            job: "motor_tool",
            name: "nickel drill on four in series, the guard used as the end of the charge",
            entered: vec![("device/loads", loads(amps(12.0), amps(75.0))), ("charger", charger(17.6, 2.0))],
            notices: &["charging.over-volts", "protection.trip-in-peak"],
            asks: &[],
        },
        Told {
            job: "motor_tool",
            name: "nickel vacuum on four salvaged cells with nothing between them and the motor",
            entered: vec![
                (
                    "device/original",
                    json!({"chemistry": "nickel", "series": 6, "charger_fits": true, "charger_label_v": 9.0,
                    "charger_v": known(12.4)}),
                ),
                ("device/highest_v", known(8.5)),
                ("device/lowest_v", known(5.5)),
                ("packs/0/series", json!(2)),
                ("packs/0/parallel", json!(2)),
                ("cell/origin", json!("salvaged")),
                ("cell/tested", json!(false)),
                ("board", none()),
                ("cutoff", none()),
                ("charger", charger(8.4, 2.0)),
            ],
            notices: &[
                "voltage.no-guard",
                "protection.no-balancing",
                "cells.salvaged-untested",
                "charging.old-charger-fits",
                "device.charger-unregulated",
            ],
            asks: &[],
        },
    ]
}

fn entered(told: &Told) -> Plan {
    let mut changes = vec![("device/job", json!(told.job))];
    changes.extend(told.entered.clone());
    with(&sound(), &changes)
}

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
    let all: BTreeSet<String> = brick_core::device::jobs::JOBS
        .iter()
        .map(|sheet| serde_json::to_value(sheet.job).unwrap().as_str().unwrap().to_owned())
        .collect();
    assert_eq!(kinds.into_iter().map(str::to_owned).collect::<BTreeSet<_>>(), all);
}

/// An answer takes its question off the list, and an unknown never becomes an answer by itself.
#[test]
fn a_question_goes_when_it_is_answered_and_not_before() {
    for (job, question, answer) in [
        ("motor_tool", "Whether it lives", ("device/proving", json!({"lives": true}))),
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
        ("pump", "What it must bear", ("device/surroundings", json!({"wet": true, "dusty": false, "shocks": false}))),
        (
            "handheld_with_gauge",
            "Volts at which its gauge changes",
            ("device/brains", json!({"alarms": [{"name": "low", "at_v": known(12.5)}]})),
        ),
        (
            "toy_or_model",
            "Inside of the place",
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
