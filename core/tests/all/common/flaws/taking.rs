//! Flaws of a pack that is taken as a whole, and of the fuse in its charge lead.

use brick_core::assess::Severity::{Caution, Stop};
use serde_json::{Value, json};

use super::super::chosen;
use super::guarding::with_run;
use super::{Flaw, flaw, known, offer};

/// A made-up tool pack of the sound plan's volts, with everything stated.
fn tool_pack(more: &[(&str, Value)]) -> Value {
    let mut pack = json!({"offer": offer("4S tool pack"), "kind": "tool", "chemistry": "li_ion", "series": 4,
        "capacity_ah": 5.0, "continuous_a": 40.0, "charge_a": 8.0, "resistance_ohm": known(0.04), "length_mm": 110.0,
        "width_mm": 74.0, "height_mm": 62.0, "taps": true, "guarded": true, "guard_v": 11.2, "fused": true});
    for (field, value) in more {
        pack[field] = value.clone();
    }
    json!({"state": "chosen", "part": pack})
}

fn bay(depth_mm: f64) -> Value {
    json!([{"id": "bay", "name": "bay",
        "space": {"shape": "box", "length_mm": 70.0, "width_mm": 120.0, "depth_mm": depth_mm}}])
}

/// A fuse between jack and board, in the place of the alarm that the sound plan does not have.
fn fused(rating_a: f64, dc_v: f64) -> Vec<(&'static str, Value)> {
    let fuse = json!({"offer": offer("charge fuse"), "style": "blade", "rating_a": rating_a, "dc_v": dc_v});
    let mut runs = with_run("charge-fuse-board", "alarm", "board");
    runs[7]["to"] = json!("alarm");
    vec![("nodes/8", json!({"id": "alarm", "kind": "fuse", "part": chosen("fuse", fuse)})), ("runs", runs)]
}

pub fn flaws() -> Vec<Flaw> {
    let ready = |more: &[(&str, Value)]| vec![("packs/0/ready", tool_pack(more))];
    vec![
        flaw(
            "a pack without a balance plug under a board",
            ready(&[("taps", json!(false))]),
            Stop,
            "protection.no-taps",
        )
        .given(ready(&[])),
        flaw(
            "a pack thicker than the bay is deep, whichever way it lies",
            vec![("device/compartments", bay(70.0))],
            Stop,
            "brick.pack-too-large",
        )
        .given([ready(&[]), vec![("device/compartments", bay(74.0))]].concat()),
        flaw("a pack whose plug is for 2 A", ready(&[("plug_a", json!(2.0))]), Stop, "wiring.pack-plug-over-current")
            .given(ready(&[("plug_a", json!(60.0))])),
        flaw("a pack whose plug has bare pins", ready(&[("plug_bare", json!(true))]), Caution, "wiring.pack-plug-bare")
            .given(ready(&[("plug_bare", json!(false))])),
        flaw("a fuse of 1 A in the charge lead", fused(1.0, 32.0), Stop, "charging.fuse-small@alarm")
            .given(fused(5.0, 32.0)),
        flaw("a fuse for 12 V in the charge lead", fused(5.0, 12.0), Stop, "charging.fuse-volts@alarm")
            .given(fused(5.0, 32.0)),
    ]
}
