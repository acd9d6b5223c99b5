//! Flaws of what hangs on the line: a converter's adjuster and heat, a gauge's divider, a change-over, a second pack.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::super::known;
use super::{Flaw, bucked, converter, flaw};

/// The same step-down, with more said of it.
fn adjusted(more: Value) -> Value {
    let mut part = converter("buck", 9.0);
    for (key, value) in more.as_object().into_iter().flatten() {
        part["part"]["module"]["converts"][key] = value.clone();
    }
    part
}

fn gauge(top_ohm: f64, bottom_ohm: f64) -> Value {
    json!({"top_ohm": top_ohm, "bottom_ohm": bottom_ohm, "series": "e24", "always_on": true})
}

fn comparator(threshold_v: f64, hysteresis_v: f64) -> Value {
    json!({"by": "ideal_diode", "host_charging_v": known(13.8), "host_on_battery_v": known(13.0),
        "threshold_v": threshold_v, "hysteresis_v": hysteresis_v})
}

/// A second pack like the first, switched as it should be, but for what is said.
fn second(more: Value) -> Value {
    let mut pack = json!({"each_guarded": true, "break_before_make": true});
    for (key, value) in more.as_object().into_iter().flatten() {
        pack[key] = value.clone();
    }
    pack
}

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw(
            "socket for fixed volts on an adjustable output",
            vec![("converter", adjusted(json!({"adjustable": true, "fixed_socket": true})))],
            Stop,
            "voltage.fixed-socket",
        )
        .given(bucked()),
        // 9 V × 9 A behind 85 % are 14 W.
        flaw(
            "a converter of 85 % with nowhere to put its heat",
            vec![("converter", adjusted(json!({"efficiency": 0.85})))],
            Note,
            "voltage.heat-unplaced",
        )
        .given([bucked(), vec![("converter", adjusted(json!({"efficiency": 0.96})))]].concat()),
        flaw(
            "adjuster on leads without a clamp",
            vec![("converter", adjusted(json!({"adjuster_on_leads": true})))],
            Caution,
            "voltage.adjuster-open",
        )
        .given(bucked()),
        flaw(
            "gauge divider of 1.3 kΩ day and night",
            vec![("feed/gauge", gauge(1000.0, 330.0))],
            Caution,
            "voltage.divider-drains",
        )
        .along(&["voltage.unpowered-pin"]),
        flaw(
            "gauge divider of 1.3 MΩ day and night",
            vec![("feed/gauge", gauge(1e6, 3.3e5))],
            Caution,
            "voltage.unpowered-pin",
        ),
        // 9 A over 15 ms with 14.4 − 9 V to fall want 25 mF.
        flaw(
            "a relay bridged by one millifarad",
            vec![("feed/change_over", json!({"by": "relay", "hold_up_f": 0.001}))],
            Caution,
            "voltage.hold-up-small",
        ),
        flaw(
            "a diode before a device that needs 14 V",
            vec![("feed/change_over", json!({"by": "diode"}))],
            Caution,
            "voltage.change-over-too-low",
        )
        .given(vec![("device/lowest_v", known(14.0))]),
        flaw(
            "comparator above both its states",
            vec![("feed/change_over", comparator(13.9, 0.3))],
            Caution,
            "voltage.comparator-blind",
        ),
        flaw(
            "comparator with 20 mV of hysteresis",
            vec![("feed/change_over", comparator(13.4, 0.02))],
            Caution,
            "voltage.comparator-chatter",
        ),
        flaw(
            "two packs in series for a device of 17 V",
            vec![("feed/second", second(json!({"used_in_series": true})))],
            Stop,
            "voltage.series-above-device",
        )
        .along(&["protection.fuse-volts"]),
        flaw(
            "two packs in series before a converter of 25 V",
            vec![("feed/second", second(json!({"used_in_series": true})))],
            Stop,
            "voltage.converter-input-high",
        )
        .given([bucked(), vec![("converter", adjusted(json!({"input_max_v": 25.0})))]].concat())
        .along(&["protection.fuse-volts"]),
        flaw(
            "two packs in parallel for a device of 20 V",
            vec![("feed/second", second(json!({"used_in_parallel": true})))],
            Stop,
            "voltage.parallel-never-runs",
        )
        .given(vec![("device/lowest_v", known(20.0)), ("device/highest_v", known(40.0))]),
        flaw(
            "series switch that makes before it breaks",
            vec![("feed/second", second(json!({"break_before_make": false})))],
            Stop,
            "voltage.make-before-break",
        ),
        flaw(
            "packs joined 0.2 V a cell apart",
            vec![(
                "feed/second",
                second(json!({"used_in_parallel": true, "first_rest_v": known(16.4), "rest_v": known(15.6)})),
            )],
            Caution,
            "voltage.packs-apart",
        ),
        flaw(
            "unequal packs in series without guards",
            vec![("feed/second", second(json!({"used_in_series": true, "capacity_ah": 4.0, "each_guarded": false})))],
            Stop,
            "voltage.packs-unequal",
        )
        .given(vec![("device/highest_v", known(40.0))])
        .along(&["protection.fuse-volts"]),
    ]
}
