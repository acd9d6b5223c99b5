//! Bad input: every field that cannot stand is named with its place and what would be right; the rest is not blamed.

use crate::common;

use brick_core::assess::assess;
use brick_core::plan::{Change, Plan, apply};
use common::{module, pointer, sound, with};
use serde_json::{Value, json};

/// What is said of a plan with one value changed: every refused field with its message.
fn refused(at: &str, value: Value) -> Vec<(String, String)> {
    let plan = apply(&full(), &[Change::put(pointer(at), value)]).unwrap_or_else(|e| panic!("{at}: {e}"));
    let errors = assess(&plan).err().unwrap_or_default();
    errors.into_iter().map(|e| (e.field, e.message)).collect()
}

/// The sound plan with every optional thing filled in, so that every field has a place.
fn full() -> Plan {
    let converter = module(
        "converter",
        json!({"standby_a": 0.001, "converts": {"topology": "buck_boost", "output_v": 14.4, "wired_in": false,
            "set_point_v": {"value": 14.4, "how": "measured"}, "input_min_v": 5.0, "input_max_v": 24.0, "input_a": 20.0,
            "output_a": 20.0, "efficiency": 0.9, "dropout_v": 0.5, "sheds_w": 30.0}}),
    );
    with(
        &sound(),
        &[
            ("converter", converter),
            ("cutoff", module("cut-off", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 14.0}}))),
            ("alarm", module("alarm", json!({"alarms": {"at_cell_v": 3.3}}))),
            ("supply", module("supply", json!({"supplies": {"output_v": 19.0, "output_a": 3.0}}))),
            (
                "device/brains",
                json!({"alarms": [{"name": "low", "at_v": {"value": 13.0, "how": "stated"}}],
            "charge_v": {"value": 14.0, "how": "measured"}, "selector_low_v": {"value": 12.0, "how": "stated"}}),
            ),
            (
                "device/compartments",
                json!([{"id": "bay", "name": "bay",
            "space": {"shape": "box", "length_mm": 100.0, "width_mm": 70.0, "depth_mm": 40.0},
            "obstructions": [{"name": "post", "length_mm": 8.0, "width_mm": 8.0, "depth_mm": 40.0}],
            "openings": [{"purpose": "jack", "hole_mm": 8.0, "behind_mm": 20.0, "wall_mm": 2.5}]}]),
            ),
            (
                "device/proving",
                json!({"limit_a": 2.0, "idle_a": {"value": 0.0, "how": "measured"},
            "draw_a": {"value": 9.0, "how": "measured"}, "stops_at_v": {"value": 9.0, "how": "measured"},
            "ran_at_v": {"value": 16.0, "how": "measured"}}),
            ),
            (
                "meters",
                json!([{"id": "hand", "name": "hand meter", "reads": "volts", "range": 20.0, "step": 0.01,
            "error_share": 0.005, "error_steps": 2.0, "burden_ohm": null, "every_s": 0.5}]),
            ),
            ("device/original/charger_label_v", json!(20.0)),
            ("device/original/charger_label_a", json!(0.4)),
        ],
    )
}

#[test]
fn the_full_plan_can_stand() {
    assert_eq!(assess(&full()).err(), None);
}

/// A value beyond each end of its range: the field is named, the range is told, nothing else is blamed.
#[test]
fn every_number_beyond_its_range_is_refused_by_name_with_the_range() {
    let cases: &[(&str, f64, &str, &str)] = &[
        ("device/proving/ran_at_v/value", 0.0, "/device/proving/ran_at_v/value", "0.1 V"),
        ("device/highest_v/value", 501.0, "/device/highest_v/value", "500 V"),
        ("device/highest_v/error", -0.1, "/device/highest_v/error", "0 to 1000"),
        ("device/loads/0/draw/value_a/value", 0.0, "/device/loads/0/draw/value_a/value", "1000 A"),
        ("device/loads/1/duration_s", 0.0, "/device/loads/1/duration_s", "4.2 days"),
        ("device/wanted_run_s", 0.5, "/device/wanted_run_s", "365 days"),
        ("device/original/charger_label_v", 501.0, "/device/original/charger_label_v", "500 V"),
        ("device/original/charger_label_a", 0.0, "/device/original/charger_label_a", "1000 A"),
        ("device/brains/charge_v/value", 0.0, "/device/brains/charge_v/value", "0.1 V"),
        ("device/brains/selector_low_v/value", 900.0, "/device/brains/selector_low_v/value", "500 V"),
        ("device/brains/alarms/0/at_v/value", -1.0, "/device/brains/alarms/0/at_v/value", "500 V"),
        ("device/compartments/0/space/depth_mm", 0.0, "/device/compartments/0/space/depth_mm", "1000 mm"),
        (
            "device/compartments/0/obstructions/0/width_mm",
            1e9,
            "/device/compartments/0/obstructions/0/width_mm",
            "1000 mm",
        ),
        ("device/compartments/0/openings/0/hole_mm", 0.0, "/device/compartments/0/openings/0/hole_mm", "1000 mm"),
        ("device/compartments/0/openings/0/wall_mm", -2.0, "/device/compartments/0/openings/0/wall_mm", "1000 mm"),
        ("device/proving/limit_a", 0.0, "/device/proving/limit_a", "1000 A"),
        ("device/proving/idle_a/value", -0.1, "/device/proving/idle_a/value", "1000 A"),
        ("device/proving/stops_at_v/value", 0.0, "/device/proving/stops_at_v/value", "500 V"),
        ("meters/0/range", 2e7, "/meters/0/range", "10000000"),
        ("meters/0/error_share", 1.5, "/meters/0/error_share", "90 %"),
        ("meters/0/error_steps", -1.0, "/meters/0/error_steps", "0 to 1000"),
        ("meters/0/every_s", 0.0, "/meters/0/every_s", "4.2 days"),
        ("environment/use_min_c", -41.0, "/environment/use_min_c", "-40 °C"),
        ("environment/charge_max_c", 91.0, "/environment/charge_max_c", "90 °C"),
        ("cell/rated_ah", 0.0, "/packs/0/cell/part/rated_ah", "400 Ah"),
        ("cell/dcir_ohm/value", 11.0, "/packs/0/cell/part/dcir_ohm/value", "10 Ω"),
        ("cell/size/diameter_mm", 0.0, "/packs/0/cell/part/size/diameter_mm", "1000 mm"),
        ("cell/offer/price", -1.0, "/packs/0/cell/part/offer/price", "1000000"),
        ("cell/full_v", 6.0, "/packs/0/cell/part/full_v", "5 V"),
        ("strip/width_mm", 0.0, "/packs/0/strip/part/width_mm", "1000 mm"),
        ("strip/layers", 41.0, "/packs/0/strip/part/layers", "1 to 40"),
        ("board/protects/over_charge_v", 9.0, "/nodes/1/part/part/module/protects/over_charge_v", "5 V"),
        ("board/protects/trip_a/value", 2000.0, "/nodes/1/part/part/module/protects/trip_a/value", "1000 A"),
        ("fuse/rating_a", 0.0, "/nodes/2/part/part/fuse/rating_a", "1000 A"),
        ("fuse/breaking_a", 0.5, "/nodes/2/part/part/fuse/breaking_a", "200000 A"),
        ("cutoff/cuts_off/rearm_v", 0.0, "/nodes/3/part/part/module/cuts_off/rearm_v", "500 V"),
        ("switch/contact_ohm", 20.0, "/nodes/4/part/part/switch/contact_ohm", "10 Ω"),
        ("plug/dc_v", 0.0, "/nodes/5/part/part/connector/dc_v", "500 V"),
        ("converter/converts/efficiency", 1.2, "/nodes/6/part/part/module/converts/efficiency", "100 %"),
        ("converter/converts/set_point_v/value", 0.0, "/nodes/6/part/part/module/converts/set_point_v/value", "500 V"),
        ("converter/standby_a", -1.0, "/nodes/6/part/part/module/standby_a", "1000 A"),
        ("alarm/alarms/at_cell_v", 7.0, "/nodes/8/part/part/module/alarms/at_cell_v", "5 V"),
        ("charger/charges/tolerance", 1.0, "/nodes/10/part/part/module/charges/tolerance", "90 %"),
        ("supply/supplies/output_a", 0.0, "/nodes/11/part/part/module/supplies/output_a", "1000 A"),
        ("lead/length_mm", 0.0, "/runs/4/length_mm", "100000 mm"),
        ("lead/wire/part/size/awg", 41.0, "/runs/4/wire/part/size/awg", "40"),
    ];
    let mut wrong = vec![];
    for &(at, value, field, told) in cases {
        let whole = at.ends_with("layers") || at.ends_with("awg");
        let found = refused(at, if whole { json!(value as i64) } else { json!(value) });
        match found.as_slice() {
            [(found, message)] if found == field && message.contains(told) => {}
            other => wrong.push(format!("{at} = {value}: {other:?} instead of {field} with {told}")),
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Both ends of a range may stand: only what lies beyond is refused.
#[test]
fn the_ends_of_the_ranges_may_stand() {
    for (at, value) in [
        ("device/wanted_run_s", json!(1.0)),
        ("environment/use_min_c", json!(-40.0)),
        ("cell/rated_ah", json!(0.01)),
        ("strip/layers", json!(40)),
        ("converter/converts/efficiency", json!(1.0)),
        ("device/proving/idle_a/value", json!(0.0)),
        ("meters/0/error_share", json!(0.0)),
        ("lead/length_mm", json!(100_000.0)),
        ("lead/wire/part/size/awg", json!(-3)),
    ] {
        assert_eq!(refused(at, value.clone()), [], "{at} = {value}");
    }
}

#[test]
fn what_does_not_hang_together_is_refused_where_it_stands() {
    let twice = |what: &str, id: &str| {
        json!([{"id": id, "name": what, "draw": {"as": "current", "value_a": {"value": 1.0, "how": "stated"}}},
        {"id": id, "name": what, "draw": {"as": "power", "value_w": {"value": 1.0, "how": "stated"}}}])
    };
    for (at, value, field, told) in [
        ("name", json!("  "), "/name", "1 to 120"),
        ("name", json!("x".repeat(121)), "/name", "1 to 120"),
        ("notes", json!("x".repeat(20_001)), "/notes", "20000"),
        ("currency", json!(""), "/currency", "1 to 8"),
        ("device/label", json!("x".repeat(401)), "/device/label", "400"),
        ("device/lowest_v/value", json!(17.0), "/device/lowest_v", "below the maximum"),
        ("device/loads", twice("twice", "a"), "/device/loads/1/id", "used twice"),
        ("device/loads", twice("spaces", "a b"), "/device/loads/0/id", "letters, digits and hyphens"),
        ("device/loads/1/every_s", json!(0.1), "/device/loads/1/every_s", "more often than it lasts"),
        ("environment/use_min_c", json!(50.0), "/environment/use_min_c", "warmer"),
        ("environment/charge_min_c", json!(50.0), "/environment/charge_min_c", "warmer"),
        ("packs/0/parallel", json!(0), "/packs/0/parallel", "1 to 40"),
        ("packs/0/series", json!(25), "/packs/0/series", "1 to 24"),
        ("packs/0/id", json!("nowhere"), "/packs/0/id", "no node"),
        ("runs/4/to", json!("nowhere"), "/runs/4/to", "no node"),
        ("runs/4/to", json!("switch"), "/runs/4/to", "two different nodes"),
        ("states/0/open/0", json!("nowhere"), "/states/0/open/0", "no node"),
        ("nodes/2/kind", json!("switch"), "/nodes/2/part", "does not belong at this node"),
        ("meters/0/step", json!(21.0), "/meters/0/step", "exceed the range"),
        ("device/compartments/0/name", json!(""), "/device/compartments/0/name", "1 to 120"),
        ("accepted", json!([{"finding": "run.baggage", "reason": " "}]), "/accepted/0/reason", "write why"),
    ] {
        let found = refused(at, value.clone());
        assert!(found.iter().any(|(f, m)| f == field && m.contains(told)), "{at} = {value}: {found:?}");
    }
}

#[test]
fn all_faults_are_told_at_once_and_the_count_of_cells_is_limited() {
    let plan = with(
        &full(),
        &[("cell/rated_ah", json!(0.0)), ("fuse/rating_a", json!(0.0)), ("environment/use_max_c", json!(200.0))],
    );
    let fields: Vec<String> = assess(&plan).unwrap_err().into_iter().map(|e| e.field).collect();
    assert_eq!(fields, ["/environment/use_max_c", "/packs/0/cell/part/rated_ah", "/nodes/2/part/part/fuse/rating_a"]);
    let many = refused("packs/0/parallel", json!(40));
    assert_eq!(many, [], "4 x 40 are 160 cells");
    let most = with(&full(), &[("packs/0/series", json!(14)), ("packs/0/parallel", json!(29))]);
    assert!(assess(&most).unwrap_err()[0].message.contains("406 cells are more than the 400"));
}
