//! Flaws of the strips before the cells are laid out.

use brick_core::assess::Severity::Stop;
use serde_json::json;

use super::{Flaw, flaw, known};

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw(
            "one thin strip",
            vec![("strip/side_by_side", json!(1)), ("strip/thickness_mm", json!(0.15)), ("strip/width_mm", json!(8.0))],
            Stop,
            "brick.strip-over-current",
        )
        .along(&["protection.fuse-above-strips"]),
        flaw(
            "a start of 8 s on thin strips",
            vec![
                ("device/loads/1/duration_s", json!(8.0)),
                ("device/loads/1/draw/value_a", known(34.0)),
                ("strip/side_by_side", json!(1)),
                ("strip/width_mm", json!(10.0)),
                ("strip/thickness_mm", json!(0.22)),
                ("cell/pulse_s", json!(10.0)),
            ],
            Stop,
            "brick.strip-over-peak",
        )
        .along(&[
            "wiring.connector-peak@plug",
            "wiring.switch-peak@switch",
            "protection.fuse-peak",
            "protection.fuse-above-strips",
        ]),
    ]
}
