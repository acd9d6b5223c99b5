//! Flaws of wires, plugs and switches.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, charger, flaw, known};

/// The runs of the sound plan without one.
fn without(id: &str) -> Value {
    let mut runs = serde_json::to_value(super::sound()).unwrap()["runs"].as_array().unwrap().clone();
    runs.retain(|run| run["id"] != id);
    json!(runs)
}

/// The states of the sound plan, in one of which a part is open.
fn opened(state: &str, id: &str) -> Value {
    let mut states = serde_json::to_value(super::sound()).unwrap()["states"].clone();
    for one in states.as_array_mut().unwrap().iter_mut().filter(|s| s["name"] == state) {
        one["open"].as_array_mut().unwrap().push(json!(id));
    }
    states
}

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw("no wire from fuse to switch", vec![("runs", without("fuse-cutoff"))], Stop, "wiring.no-way"),
        flaw("a switch open while it runs", vec![("states", opened("running", "switch"))], Stop, "wiring.no-way"),
        flaw("a jack joined to nothing", vec![("runs", without("charge-lead"))], Stop, "wiring.no-way@charge"),
        flaw(
            "24 AWG for 9 A",
            vec![("lead/wire/part/size/awg", json!(24)), ("lead/length_mm", json!(100.0))],
            Stop,
            "wiring.wire-over-current@lead",
        )
        .along(&["protection.fuse-above-wire@lead", "wiring.thinner-than-before@lead"]),
        // IEC 60364-4-43: 143 x 0.205 mm2 / sqrt(0.4 s) = 46 A for 24 AWG; the strips bear it, the wire does not.
        flaw(
            "a stall of 65 A over 24 AWG",
            vec![
                ("device/loads/0/draw/value_a", known(2.0)),
                ("device/loads/1/draw/value_a", known(65.0)),
                ("lead/wire/part/size/awg", json!(24)),
                ("fuse/rating_a", json!(3.0)),
                ("device/original/wire", Value::Null),
                ("lead/length_mm", json!(50.0)),
                ("device/lowest_v", known(5.0)),
            ],
            Stop,
            "wiring.wire-over-peak@lead",
        )
        .along(&[
            "wiring.connector-peak@plug",
            "wiring.switch-peak@switch",
            "protection.fuse-peak",
            "protection.trip-in-peak",
        ]),
        flaw(
            "thinner than before",
            vec![("device/original/wire/awg", json!(14))],
            Caution,
            "wiring.thinner-than-before@lead",
        ),
        flaw("two metres of lead", vec![("lead/length_mm", json!(2500.0))], Caution, "wiring.drop"),
        flaw("plug for 8 A", vec![("plug/continuous_a", json!(8.0))], Stop, "wiring.connector-over-current@plug")
            .along(&["protection.fuse-above-connector@plug"]),
        flaw(
            "a start of 20 A through a plug for 16",
            vec![("plug/continuous_a", json!(16.0))],
            Caution,
            "wiring.connector-peak@plug",
        ),
        flaw(
            "a start of 20 A through a switch for 16",
            vec![("switch/continuous_a", json!(16.0))],
            Caution,
            "wiring.switch-peak@switch",
        ),
        flaw("plug for 12 V", vec![("plug/dc_v", json!(12.0))], Stop, "wiring.connector-volts@plug"),
        flaw("bare live pins", vec![("plug/live_pins_bare", json!(true))], Stop, "wiring.bare-live-pins@plug"),
        flaw("unkeyed plug", vec![("plug/keyed", json!(false))], Caution, "wiring.unkeyed@plug"),
        flaw("switch for 6 A", vec![("switch/continuous_a", json!(6.0))], Stop, "wiring.switch-over-current@switch"),
        flaw("switch for 12 V", vec![("switch/dc_v", json!(12.0))], Stop, "wiring.switch-volts@switch"),
        flaw("switch for AC", vec![("switch/dc_v", Value::Null)], Caution, "wiring.switch-not-dc@switch"),
        // Half full 14.4 V; 1.2 m of 24 AWG (84 milliohm/m both ways doubled) takes what a device of 13.5 V needs.
        flaw(
            "a thin lead before a device that needs 13.6 V",
            vec![
                ("lead/wire/part/size/awg", json!(18)),
                ("lead/length_mm", json!(900.0)),
                ("device/lowest_v", known(13.6)),
                ("device/original/wire", Value::Null),
                ("device/wanted_run_s", Value::Null),
                ("fuse/rating_a", json!(12.5)),
            ],
            Stop,
            "wiring.drop-below-device",
        )
        .along(&["voltage.charge-unused", "run.brown-out", "protection.fuse-peak"]),
        // 28 AWG in PVC, bundled, against 4 A.
        flaw(
            "a charge lead of 28 AWG for 4 A",
            vec![
                (
                    "runs/7/wire",
                    json!({"state": "chosen", "part": {"offer": {"name": "thin lead"}, "insulation": "pvc",
                    "size": {"standard": "awg", "awg": 28}, "bundled": true}}),
                ),
                ("runs/7/length_mm", json!(100.0)),
            ],
            Stop,
            "wiring.charge-wire@charge-lead",
        )
        .given(vec![("charger", charger(16.8, 4.0)), ("device/original/wire", Value::Null)]),
        flaw(
            "plugs that also fit each other",
            vec![("wiring", json!({"plugs_swap": true}))],
            Stop,
            "wiring.plugs-swap",
        ),
        flaw(
            "a lead that nothing holds",
            vec![("wiring", json!({"strain_relief": false}))],
            Caution,
            "wiring.no-strain-relief",
        ),
        flaw(
            "a panel meter on the circuit it measures",
            vec![("wiring", json!({"panel_meter": true, "meter_isolated": false}))],
            Caution,
            "wiring.meter-not-isolated",
        ),
        flaw(
            "a tap plug nobody has read",
            vec![("wiring", json!({"taps": {"order_read": false, "fused": true}}))],
            Caution,
            "wiring.tap-order",
        ),
        flaw(
            "tap wires without a fuse",
            vec![("wiring", json!({"taps": {"order_read": true, "fused": false}}))],
            Note,
            "wiring.taps-unfused",
        ),
    ]
}
