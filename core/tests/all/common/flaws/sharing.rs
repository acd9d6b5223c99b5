//! Flaws of a laid brick that its network shows: uneven sharing, a cell over its rating, heat, bad joints.

use brick_core::assess::Severity::{Caution, Stop};
use serde_json::json;

use super::laying::laid;
use super::{Flaw, flaw, known};

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw(
            "a thin strip over laid cells",
            vec![("strip/thickness_mm", json!(0.1))],
            Stop,
            "brick.strip-over-current",
        )
        .given(laid())
        .along(&["protection.fuse-above-strips"]),
        flaw(
            "low cells taken off at one end",
            vec![("packs/0/brick/take_off", json!("same_end"))],
            Caution,
            "brick.uneven-sharing",
        )
        .given(
            [laid(), vec![("cell/dcir_ohm", known(0.0015)), ("packs/0/brick/take_off", json!("every_cell"))]].concat(),
        ),
        flaw(
            "a rating just above an even share",
            vec![("cell/discharge_a", json!(4.51))],
            Stop,
            "brick.share-over-rating",
        )
        .given(laid())
        .along(&["protection.trip-above-cells"]),
        flaw("cells of ten times the resistance", vec![("cell/dcir_ohm", known(0.06))], Stop, "run.cell-too-hot")
            .given(laid())
            .along(&[
                "run.brown-out",
                "run.shorter-than-wanted",
                "voltage.charge-unused",
                "voltage.loaded-below-device",
                "protection.fuse-breaking",
            ]),
        flaw("a hot shed", vec![("environment/use_max_c", json!(46.5))], Caution, "brick.hottest-cell").given(laid()),
        flaw(
            "solder on bare cell ends",
            vec![("packs/0/brick/joined_by", json!("soldered_to_cells"))],
            Caution,
            "brick.soldered-on-cells",
        ),
        flaw(
            "spring contacts in a blower",
            vec![("packs/0/brick/joined_by", json!("springs"))],
            Caution,
            "brick.spring-contacts",
        )
        .along(&["brick.loose-cells"]),
        flaw(
            "loose cells side by side",
            vec![("packs/0/brick/joined_by", json!("springs"))],
            Caution,
            "brick.loose-cells",
        )
        .given(vec![
            ("device/loads/0/draw/value_a", known(2.0)),
            ("device/loads/1/draw/value_a", known(5.0)),
            ("fuse/rating_a", json!(5.0)),
        ]),
    ]
}
