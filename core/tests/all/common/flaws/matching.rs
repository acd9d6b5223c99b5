//! Flaws of the voltage.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, bucked, flaw, known, module, none};

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw("device bears 16 V", vec![("device/highest_v", known(16.0))], Stop, "voltage.full-above-device"),
        flaw(
            "limit read on a poor meter",
            vec![("device/highest_v", json!({"value": 16.7, "how": "measured", "error": 0.2}))],
            Caution,
            "voltage.full-in-tolerance",
        ),
        flaw(
            "device needs 18 V",
            vec![("device/lowest_v", known(18.0)), ("device/highest_v", known(20.0))],
            Stop,
            "voltage.loaded-below-device",
        )
        .along(&["voltage.nothing-usable", "run.brown-out", "run.shorter-than-wanted"]),
        // IEC 62368-1: touch-voltage limit 60 V DC.
        flaw(
            "15 in series",
            vec![
                ("packs/0/series", json!(15)),
                ("device/highest_v", known(70.0)),
                ("board/protects/series", json!(15)),
                ("charger/charges/output_v", known(63.0)),
                ("fuse/dc_v", json!(80.0)),
                ("switch/dc_v", json!(80.0)),
                ("plug/dc_v", json!(80.0)),
                ("jack/dc_v", json!(80.0)),
                ("device/original/series", json!(45)),
                ("device/lowest_v", known(30.0)),
            ],
            Stop,
            "voltage.over-touch-limit",
        )
        .along(&["run.baggage", "run.shorter-than-wanted"]),
        flaw(
            "cut-out at 14.2 V",
            vec![
                ("device/cutout_v", known(14.2)),
                ("device/lowest_v", known(14.0)),
                ("device/wanted_run_s", Value::Null),
            ],
            Caution,
            "voltage.charge-unused",
        )
        .along(&["run.brown-out"]),
        // 6.4 to 7.4 V nominal is +16 %.
        flaw(
            "two cobalt cells for two phosphate cells",
            vec![("device/original/chemistry", json!("li_fe_po4")), ("device/original/series", json!(4))],
            Caution,
            "voltage.faster-motor",
        ),
        flaw(
            "old battery of 14 nickel cells",
            vec![("device/original/series", json!(14))],
            Note,
            "voltage.slower-motor",
        ),
        flaw("board of no use for the discharge, nothing else", vec![("board", none())], Stop, "voltage.no-guard"),
        flaw(
            "only an alarm",
            vec![("board", none()), ("alarm", module("tap alarm", json!({"alarms": {"at_cell_v": 3.3}})))],
            Caution,
            "voltage.alarm-only",
        ),
        flaw(
            "board opens at 2.3 V",
            vec![("board/protects/over_discharge_v", json!(2.3))],
            Stop,
            "voltage.guard-below-floor",
        ),
        flaw(
            "board opens at 2.5 V",
            vec![("board/protects/over_discharge_v", json!(2.5))],
            Caution,
            "voltage.last-resort-guard",
        ),
        flaw("cells that sag to nothing", vec![("cell/dcir_ohm", known(0.5))], Stop, "voltage.nothing-usable")
            .along(&["run.brown-out", "voltage.loaded-below-device"]),
        flaw(
            "converter bears 15 V",
            vec![("converter/converts/input_max_v", json!(15.0))],
            Stop,
            "voltage.converter-input-high",
        )
        .given(bucked()),
        flaw(
            "buck set to 11.5 V that needs 1.5 V of head room",
            vec![
                ("converter/converts/output_v", json!(11.5)),
                ("converter/converts/dropout_v", json!(1.5)),
                ("device/original/series", json!(10)),
            ],
            Stop,
            "voltage.buck-headroom",
        )
        .given(bucked())
        .along(&["run.brown-out"]),
        flaw(
            "buck set to 11.5 V of unknown head room",
            vec![("converter/converts/output_v", json!(11.5)), ("device/original/series", json!(10))],
            Caution,
            "voltage.buck-headroom",
        )
        .given(bucked())
        .along(&["run.brown-out"]),
        flaw(
            "boost below the full pack",
            vec![
                ("converter/converts/topology", json!("boost")),
                ("converter/converts/output_v", json!(14.0)),
                ("device/original/series", json!(12)),
            ],
            Stop,
            "voltage.boost-overfed",
        )
        .given(bucked())
        .along(&["protection.fuse-nuisance", "protection.fuse-peak"]),
        flaw(
            "converter wants 18 V",
            vec![("converter/converts/input_min_v", json!(18.0))],
            Stop,
            "voltage.converter-input-low",
        )
        .given(bucked())
        .along(&["run.brown-out", "voltage.nothing-usable", "run.shorter-than-wanted"]),
        flaw(
            "input current over rating",
            vec![("converter/converts/input_a", json!(5.0))],
            Stop,
            "voltage.converter-input-current",
        )
        .given(bucked()),
        flaw(
            "output current over rating",
            vec![("converter/converts/output_a", json!(8.0))],
            Stop,
            "voltage.converter-output-current",
        )
        .given(bucked()),
        flaw("wired in unread", vec![("converter/converts/wired_in", json!(true))], Stop, "voltage.set-point-unread")
            .given(bucked()),
        flaw(
            "arrived 34 % high",
            vec![("converter/converts/set_point_v", known(12.06))],
            Stop,
            "voltage.set-point-off",
        )
        .given(bucked()),
        flaw(
            "heat in a closed box",
            vec![("converter/converts/sheds_w", json!(3.0))],
            Caution,
            "voltage.converter-heat",
        )
        .given(bucked()),
        flaw(
            "converter drains, no switch",
            vec![("converter/standby_a", json!(0.01)), ("switch", none())],
            Caution,
            "voltage.standby-drain",
        )
        .given(bucked())
        .along(&["charging.load-on", "protection.reserve-drains"]),
        flaw(
            "a converter set to 24 V for a device that bears 17",
            vec![("converter/converts/output_v", json!(24.0)), ("converter/converts/topology", json!("buck_boost"))],
            Stop,
            "voltage.output-above-device",
        )
        .given(bucked())
        .along(&[
            "voltage.faster-motor",
            "protection.fuse-nuisance",
            "protection.fuse-peak",
            "protection.fuse-above-wire@lead",
            "run.shorter-than-wanted",
            "brick.strip-over-current",
            "wiring.connector-peak@plug",
            "wiring.switch-peak@switch",
            "cells.peak-over-rating",
            "wiring.wire-over-current@lead",
        ]),
        flaw(
            "a converter set to 6 V for a device that needs 9",
            vec![("converter/converts/output_v", json!(6.0))],
            Stop,
            "voltage.output-below-device",
        )
        .given(bucked())
        .along(&["voltage.slower-motor"]),
        flaw("two packs", vec![("packs", json!([]))], Caution, "voltage.other-packs"),
    ]
}
