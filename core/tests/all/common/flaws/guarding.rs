//! Flaws of board, fuse and cut-off.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::super::{offer, sound};
use super::{Flaw, flaw, known, module, none};

/// The runs of the sound plan and one more, joined directly.
pub fn with_run(id: &str, from: &str, to: &str) -> Value {
    let mut runs = serde_json::to_value(sound()).unwrap()["runs"].as_array().unwrap().clone();
    runs.push(json!({"id": id, "from": from, "to": to, "wire": {"state": "none"}}));
    json!(runs)
}

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw(
            "neither fuse nor board",
            vec![("board", none()), ("fuse", none()), ("device/cutout_v", known(12.0))],
            Stop,
            "protection.no-over-current",
        ),
        flaw("board for three", vec![("board/protects/series", json!(3))], Stop, "protection.other-series"),
        flaw(
            "board for phosphate",
            vec![("board/protects/over_charge_v", json!(3.75))],
            Stop,
            "protection.other-chemistry",
        )
        .along(&["charging.ended-by-guard"]),
        flaw("board for 8 A", vec![("board/protects/continuous_a", json!(8.0))], Stop, "protection.board-over-current"),
        // 10 A ± 20 % begin at 8 A, and the load is 9 A for good.
        flaw("trip at 10 A", vec![("board/protects/trip_a", known(10.0))], Caution, "protection.trip-in-load")
            .along(&["protection.trip-in-peak", "protection.board-contradicts"]),
        flaw("trip at 22 A", vec![("board/protects/trip_a", known(22.0))], Caution, "protection.trip-in-peak")
            .along(&["protection.board-contradicts"]),
        flaw(
            "trip at 150 A, no fuse",
            vec![("fuse", none()), ("board/protects/trip_a", known(150.0))],
            Caution,
            "protection.trip-above-cells",
        )
        .along(&["protection.trip-above-strips"]),
        flaw(
            "no balancer, driven at 3.6 C",
            vec![
                ("packs/0/parallel", json!(1)),
                ("fuse/rating_a", json!(15.0)),
                ("board/protects/bleed_a", json!(0.0)),
                ("device/wanted_run_s", Value::Null),
            ],
            Caution,
            "protection.no-balancing",
        ),
        flaw(
            "balancer of 20 mA for salvaged cells",
            vec![("board/protects/bleed_a", json!(0.02))],
            Caution,
            "protection.bleed-weak",
        )
        .given(vec![("cell/origin", json!("salvaged"))]),
        flaw(
            "a jumper past the fuse",
            vec![("runs", with_run("jumper", "board", "cutoff"))],
            Stop,
            "protection.bypassed@fuse",
        ),
        flaw(
            "the load taken from pack minus, past the board",
            vec![("runs", with_run("short-cut", "pack", "fuse"))],
            Stop,
            "voltage.no-guard",
        )
        .along(&["protection.bypassed@board", "run.shorter-than-wanted"]),
        flaw(
            "a wire from the pack straight to the switch",
            vec![("runs", with_run("short-cut", "pack", "switch"))],
            Stop,
            "protection.no-over-current",
        )
        .along(&["voltage.no-guard", "run.shorter-than-wanted"]),
        flaw(
            "the jack joined to the pack as well",
            vec![("runs", with_run("short-cut", "jack", "pack"))],
            Stop,
            "protection.charger-round-board",
        ),
        flaw(
            "a short-circuit trip below the over-current trip",
            vec![("board/protects/short_a", json!(50.0))],
            Caution,
            "protection.board-contradicts",
        ),
        flaw(
            "a delay of 100 s",
            vec![("board/protects/trip_delay_s", json!(100.0))],
            Caution,
            "protection.board-contradicts",
        ),
        flaw(
            "60 A of bleed, a slip of the unit",
            vec![("board/protects/bleed_a", json!(60.0))],
            Caution,
            "protection.board-contradicts",
        ),
        flaw(
            "a board that opens at 1.9 V beside a cut-off",
            vec![("board/protects/over_discharge_v", json!(1.9))],
            Caution,
            "protection.ends-too-low",
        )
        .given(vec![("cutoff", module("cut-off", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 14.0}})))]),
        flaw(
            "a cut-off that closes again below where it opens",
            vec![("cutoff", module("cut-off", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 11.0}})))],
            Caution,
            "protection.rearm-below@cutoff",
        )
        .given(vec![("cutoff", module("cut-off", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 14.0}})))]),
        flaw("a way out that reads minus", vec![("charging/out_v", known(-15.2))], Stop, "protection.out-reversed")
            .given(vec![("charging/cells_v", known(15.3)), ("charging/out_v", known(15.28))]),
        flaw(
            "no sensor, driven at 3.6 C",
            vec![
                ("packs/0/parallel", json!(1)),
                ("board/protects/senses_temperature", json!(false)),
                ("device/wanted_run_s", Value::Null),
            ],
            Caution,
            "protection.no-temperature",
        ),
        flaw(
            "board wants waking",
            vec![("board/protects/wants_waking", json!(true))],
            Caution,
            "protection.wants-waking",
        ),
        flaw(
            "charger on a minus of its own",
            vec![("board/protects/port", json!("separate"))],
            Note,
            "protection.separate-port",
        ),
        flaw(
            "a blower that starts again by itself",
            vec![("board/protects/resets", json!("by_itself"))],
            Caution,
            "protection.starts-again",
        ),
        // 0.5 A round a board that bleeds 0.3 A.
        flaw(
            "trickle of 0.5 A round the board",
            vec![("board/protects/trickle_a", json!(0.5))],
            Caution,
            "protection.trickle-above-bleed",
        )
        .along(&["protection.reserve-drains"]),
        // 0.15 V over five pairs of 24 milliohm is 8 to 19 A, whatever the seller says.
        flaw(
            "70 A stated, transistors for 16",
            vec![
                ("board/protects/detect_v", json!(0.15)),
                ("board/protects/transistor_ohm", json!(0.024)),
                ("board/protects/pairs", json!(5)),
            ],
            Caution,
            "protection.trip-not-as-stated",
        ),
        // 2 strips of 3 mm2 bear 25.6 A; between that and 70 A nothing acts.
        flaw(
            "trip at 70 A over strips for 26, no fuse",
            vec![("fuse", none())],
            Caution,
            "protection.trip-above-strips",
        ),
        flaw(
            "300 mm of wire before the fuse",
            vec![(
                "runs/1",
                json!({"id": "board-fuse", "from": "board", "to": "fuse", "length_mm": 300.0, "wire": {"state": "chosen",
                        "part": {"offer": offer("silicone 16 AWG"), "insulation": "silicone",
                        "size": {"standard": "awg", "awg": 16}, "bundled": false}}}),
            )],
            Caution,
            "protection.fuse-far",
        ),
        // 18 AWG in PVC bears (115 x 0.823)^2 = 8960 A2s: 0.07 s of 370 A. A 20 A time-lag glass fuse may take
        // 0.3 s x (10 / 18.5)^2 = 0.09 s (IEC 60364-4-43 and IEC 60127-2, from memory).
        flaw(
            "a slow fuse alone before a thin wire",
            vec![
                ("board", none()),
                ("fuse/style", json!("glass_time_lag")),
                ("fuse/rating_a", json!(20.0)),
                ("lead/wire/part/size", json!({"standard": "awg", "awg": 18})),
                ("lead/wire/part/insulation", json!("pvc")),
            ],
            Caution,
            "protection.short-too-late",
        )
        .along(&["protection.fuse-above-wire@lead"])
        .given(vec![("device/cutout_v", known(12.0)), ("device/original/wire", Value::Null)]),
        flaw(
            "board that failed its test",
            vec![(
                "arrivals",
                json!([{"place": "board", "test": "marks", "part": "balancing board", "passed": false}]),
            )],
            Stop,
            "protection.failed-on-arrival@board",
        ),
        flaw("drains in days", vec![("board/standby_a", json!(0.001))], Caution, "protection.reserve-drains"),
        flaw("42 V through a 32 V fuse", vec![("fuse/dc_v", json!(12.0))], Stop, "protection.fuse-volts"),
        // IEC 60127-2 makes no DC claim.
        flaw("glass fuse without DC rating", vec![("fuse/dc_v", Value::Null)], Stop, "protection.fuse-not-dc"),
        flaw("fuse breaks 35 A", vec![("fuse/breaking_a", json!(35.0))], Stop, "protection.fuse-breaking"),
        flaw("20 A fuse on 16 AWG", vec![("fuse/rating_a", json!(20.0))], Stop, "protection.fuse-above-wire@lead"),
        flaw(
            "15 A fuse on a 12 A plug",
            vec![("plug/continuous_a", json!(12.0))],
            Stop,
            "protection.fuse-above-connector@plug",
        )
        .along(&["wiring.connector-peak@plug"]),
        flaw("7.5 A fuse for 9 A", vec![("fuse/rating_a", json!(7.5))], Caution, "protection.fuse-nuisance"),
        flaw(
            "9 A glass fuse for a 20 A start of 8 s",
            vec![
                ("fuse/style", json!("glass_fast")),
                ("fuse/rating_a", json!(9.2)),
                ("device/loads/0/draw/value_a", known(8.5)),
                ("device/loads/1/duration_s", json!(8.0)),
                ("cell/pulse_s", json!(10.0)),
            ],
            Caution,
            "protection.fuse-peak",
        ),
        flaw(
            "fuse four times the load",
            vec![("device/loads/0/draw/value_a", known(2.0)), ("device/loads/1/draw/value_a", known(5.0))],
            Caution,
            "protection.fuse-oversized",
        ),
        flaw(
            "charger wired past the board",
            vec![("runs/7/to", json!("pack"))],
            Stop,
            "protection.charger-round-board",
        ),
        flaw(
            "board between jack and pack only",
            vec![
                (
                    "runs/0",
                    json!({"id": "pack-board", "from": "pack", "to": "fuse", "wire": {"state": "none"}, "length_mm": null}),
                ),
                (
                    "runs/1",
                    json!({"id": "board-fuse", "from": "pack", "to": "board", "wire": {"state": "none"}, "length_mm": null}),
                ),
                ("device/cutout_v", known(12.0)),
            ],
            Caution,
            "protection.charge-side-only",
        ),
        // A re-arm difference of 0.1 V against a rebound of 9 A x the resistance of the way.
        flaw(
            "cut-off closes again after 0.1 V",
            vec![("cutoff", module("cut-off board", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 12.5}})))],
            Caution,
            "protection.cutoff-chatter",
        ),
        // 2.5 mm2 of nickel bear 10.7 A at 4.27 A/mm2: enough for the load, not for what the fuse lets pass.
        flaw(
            "15 A fuse over strips for 10.7",
            vec![
                ("strip/side_by_side", json!(1)),
                ("strip/width_mm", json!(10.0)),
                ("strip/thickness_mm", json!(0.25)),
            ],
            Stop,
            "protection.fuse-above-strips",
        ),
    ]
}
