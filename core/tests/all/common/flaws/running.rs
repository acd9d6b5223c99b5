//! Flaws of what the plan will do.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, flaw, known};

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw(
            "old battery ran an hour",
            vec![("device/original/run_s", known(3600.0)), ("device/wanted_run_s", Value::Null)],
            Caution,
            "run.shorter-than-before",
        )
        .given(vec![("device/original/capacity_ah", known(9.0))]),
        flaw("two hours wanted", vec![("device/wanted_run_s", json!(7200.0))], Caution, "run.shorter-than-wanted"),
        flaw(
            "a start of 60 A on weak cells",
            vec![
                ("cell/dcir_ohm", known(0.045)),
                ("device/loads/1/draw/value_a", known(34.0)),
                ("device/lowest_v", known(10.0)),
                ("fuse/rating_a", json!(15.0)),
                ("device/loads/1/duration_s", json!(0.05)),
            ],
            Caution,
            "run.brown-out",
        )
        .along(&["wiring.connector-peak@plug", "wiring.switch-peak@switch"]),
        // IATA DGR: 100 Wh without asking, 160 Wh with approval.
        flaw("four in parallel", vec![("packs/0/parallel", json!(4))], Note, "run.baggage"),
        flaw("used in an oven", vec![("environment/use_max_c", json!(65.0))], Stop, "run.over-60"),
    ]
}
