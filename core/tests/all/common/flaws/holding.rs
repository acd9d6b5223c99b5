//! Flaws of cells that their user puts into holders.

use brick_core::assess::Severity::{Caution, Stop};
use serde_json::{Value, json};

use super::{Flaw, flaw};

/// Holders for the sound plan's cells, each behind an ideal diode, and what is said otherwise.
fn holder(more: &[(&str, Value)]) -> Vec<(&'static str, Value)> {
    let mut holder = json!({"fewest": 2, "contact_a": 15.0, "contact_ohm": 0.1, "each": "ideal_diode", "each_a": 15.0,
        "charged_in_place": false});
    for (field, value) in more {
        holder[field] = value.clone();
    }
    vec![("feed/holder", holder)]
}

pub fn flaws() -> Vec<Flaw> {
    vec![
        // 8.4 V over twice 118 milliohm: 35.6 A.
        flaw(
            "holders with nothing before each cell",
            holder(&[("each", json!("nothing"))]),
            Stop,
            "cells.holder-reversed",
        )
        .given(holder(&[]))
        .along(&["cells.holder-mixed"]),
        // 1.2 V over the same: 5.1 A, where a cell bears 4 A and its fuse of 15 A opens for 35 A only.
        flaw(
            "a fuse that lets an empty cell be filled",
            holder(&[("each", json!("fuse"))]),
            Caution,
            "cells.holder-mixed",
        )
        .given(holder(&[])),
        flaw(
            "one cell that must carry it all",
            holder(&[("fewest", json!(1)), ("contact_a", json!(8.0))]),
            Stop,
            "cells.holder-few",
        )
        .given(holder(&[("contact_a", json!(8.0))])),
        flaw(
            "diodes before cells that are charged where they sit",
            holder(&[("charged_in_place", json!(true))]),
            Caution,
            "cells.holder-not-charged",
        )
        .given(holder(&[])),
    ]
}
