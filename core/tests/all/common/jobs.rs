//! Every kind of job a maker brings, as it is entered.

#![allow(dead_code, reason = "each test file uses its share of these")]

use brick_core::Plan;
use serde_json::{Value, json};

use super::{board, charger, known, module, sound, with};

/// A job with its special points: as it is entered, what is noticed, what is asked.
pub struct Told {
    pub job: &'static str,
    pub name: &'static str,
    pub entered: Vec<(&'static str, Value)>,
    pub notices: &'static [&'static str],
    pub asks: &'static [&'static str],
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

/// The jobs.
pub fn told() -> Vec<Told> {
    vec![
        Told {
            job: "charging_added",
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
                (
                    "packs/0/ready",
                    json!({"state": "chosen", "part": {"offer": {"name": "its own pack"}, "kind": "kept",
                    "chemistry": "li_ion", "series": 2, "capacity_ah": 2.6}}),
                ),
                ("board", board(2)),
                ("charger", charger(8.4, 1.0)),
            ],
            notices: &[],
            asks: &["Whether it works", "Whether it has protection inside", "a pin for every group"],
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
                    "output_a": null, "printed_a": 1.2, "own_supply": false}}),
                    ),
                ),
                ("supply", module("phone supply", json!({"supplies": {"output_v": 5.0, "output_a": 2.0}}))),
            ],
            notices: &["charging.slightly-over", "charging.supply-weak", "charging.unknown-side"],
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
            asks: &["Set-point of the converter"],
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
            job: "ready_pack",
            name: "three small cells in a handle replaced by a hobby pack on a plug, only an alarm on guard",
            entered: vec![
                ("device/original/cells_fit", json!(true)),
                (
                    "packs/0/ready",
                    json!({"state": "chosen", "part": {"offer": {"name": "hobby pack"}, "kind": "hobby",
                    "chemistry": "li_po", "series": 3, "capacity_ah": 2.2, "c_rating": 25.0}}),
                ),
                ("feed/outside", json!("plug")),
                ("board", none()),
                ("alarm", module("buzzer", json!({"alarms": {"at_cell_v": 3.4}}))),
            ],
            notices: &["cells.hobby-label", "device.old-cells-fit", "voltage.alarm-only"],
            asks: &["Whether it has protection inside"],
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
            job: "replaceable_cells",
            name: "lamp with up to three cells in holders, any of them reversed, nothing between them",
            entered: vec![
                ("device/highest_v", known(5.5)),
                ("device/lowest_v", known(2.8)),
                ("device/loads", loads(amps(0.8), amps(1.0))),
                ("packs/0/series", json!(1)),
                ("packs/0/parallel", json!(3)),
                ("feed/holder", json!({"fewest": 1, "each": "nothing"})),
                ("board", board(1)),
                ("charger", charger(4.2, 1.0)),
            ],
            notices: &["cells.holder-reversed"],
            asks: &["Whether it charges its battery itself"],
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
            entered: vec![
                ("board/protects/bleed_a", json!(0.05)),
                ("charger", charger(16.8, 4.0)),
                ("cell/origin", json!("salvaged")),
            ],
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
            asks: &["Maximum voltage"],
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
            asks: &["Maximum voltage", "Minimum voltage"],
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

/// The plan of a job.
pub fn entered(told: &Told) -> Plan {
    let mut changes = vec![("device/job", json!(told.job))];
    changes.extend(told.entered.clone());
    with(&sound(), &changes)
}

/// Every job by its name, as a plan.
pub fn plans() -> Vec<(&'static str, Plan)> {
    told().iter().map(|t| (t.name, entered(t))).collect()
}
