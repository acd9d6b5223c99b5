//! Flaws of the cells and how they were chosen.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, chosen, flaw, known};

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw(
            "phosphate cell in a cobalt pack",
            vec![("cell/chemistry", json!("li_fe_po4")), ("cell/rated_ah", json!(1.5))],
            Stop,
            "cells.other-chemistry",
        )
        .along(&["run.shorter-than-wanted", "protection.no-temperature"]),
        flaw(
            "cells chosen for 3S2P in a 4S2P",
            vec![("packs/0/groups", chosen(3, 2.5, 4.1))],
            Caution,
            "cells.groups-for-other-counts",
        ),
        flaw(
            "a group of 4.4 Ah among 5.0",
            vec![("packs/0/groups", chosen(4, 1.9, 4.1))],
            Caution,
            "cells.group-spread",
        ),
        flaw(
            "a cell 0.1 V below its fellow",
            vec![("packs/0/groups", chosen(4, 2.5, 4.0))],
            Caution,
            "cells.join-unequal",
        ),
        flaw(
            "a cell 0.4 V below its fellow",
            vec![("packs/0/groups", chosen(4, 2.5, 3.7))],
            Stop,
            "cells.join-over-limit",
        ),
        flaw("9.9 Ah on an 18650", vec![("cell/rated_ah", json!(9.9))], Stop, "cells.impossible-claim")
            .along(&["run.baggage"]),
        flaw("3.8 Ah on an 18650", vec![("cell/rated_ah", json!(3.8))], Caution, "cells.doubtful-claim")
            .along(&["run.baggage"]),
        flaw(
            "a pouch of 2000 Wh/L",
            vec![("cell/size", json!({"shape": "pouch", "thickness_mm": 3.0, "width_mm": 20.0, "length_mm": 60.0}))],
            Stop,
            "cells.impossible-density",
        ),
        flaw("cells rated for 4 A", vec![("cell/discharge_a", json!(4.0))], Stop, "cells.over-rating"),
        flaw(
            "pulse rated for less than the start",
            vec![("cell/discharge_a", json!(9.0)), ("cell/pulse_a", json!(9.5))],
            Stop,
            "cells.peak-over-rating",
        ),
        flaw(
            "a pulse rating below the continuous one",
            vec![("cell/pulse_a", json!(15.0))],
            Caution,
            "cells.pulse-below-continuous",
        ),
        flaw("a peak of 90 A and no pulse rating", vec![("cell/pulse_a", Value::Null)], Caution, "cells.peak-unstated")
            .given(vec![
                ("cell/pulse_a", json!(50.0)),
                ("device/loads/1/draw/value_a", known(90.0)),
                ("device/loads/1/duration_s", json!(0.05)),
                ("device/lowest_v", known(7.0)),
            ]),
        flaw("hobby label", vec![("cell/origin", json!("hobby"))], Note, "cells.hobby-label"),
        flaw(
            "salvaged and untested",
            vec![("cell/origin", json!("salvaged")), ("cell/tested", json!(false))],
            Caution,
            "cells.salvaged-untested",
        ),
    ]
}
