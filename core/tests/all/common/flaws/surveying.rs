//! Flaws of the device and its survey.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, apart, flaw, known};

/// A contact of the device, beside its minus, with one reading.
fn contacts(kind: &str, field: &str, read_v: f64) -> (&'static str, Value) {
    let mut one = json!({"id": "one", "name": "outer spring", "kind": kind});
    one[field] = known(read_v);
    ("device/contacts", json!([one, {"id": "two", "name": "inner spring", "kind": "battery_minus"}]))
}

pub fn flaws() -> Vec<Flaw> {
    vec![
        flaw("highest volts unknown", vec![("device/highest_v", Value::Null)], Caution, "device.highest-assumed")
            .along(&["voltage.full-in-tolerance"]),
        flaw(
            "a label of another chemistry than the plan's",
            vec![("device/original/words", json!("Sealed lead-acid 14.4 V 1.7 Ah"))],
            Caution,
            "device.label-words@chemistry",
        ),
        // White needs 3.0 V and some more: red would do.
        flaw(
            "a white lamp on two volts and a half",
            vec![(
                "device/compartments",
                json!([{"id": "bay", "name": "bay",
                "space": {"shape": "box", "length_mm": 200.0, "width_mm": 120.0, "depth_mm": 90.0},
                "openings": [{"purpose": "lamp", "hole_mm": 3.0, "wall_mm": 1.5,
                    "lamp": {"keeps": false, "colour": "white", "fed_v": 2.5}}]}]),
            )],
            Caution,
            "device.lamp-dark@bay/0",
        ),
        flaw(
            "a bare jack in a metal wall",
            vec![(
                "device/compartments",
                json!([{"id": "bay", "name": "bay", "metal": true,
                "space": {"shape": "box", "length_mm": 200.0, "width_mm": 120.0, "depth_mm": 90.0},
                "openings": [{"purpose": "jack", "hole_mm": 8.0, "wall_mm": 1.5}]}]),
            )],
            Caution,
            "device.metal-wall@bay/0",
        ),
        flaw(
            "nothing said of what keeps the rain off",
            vec![("device/surroundings", json!({"wet": true}))],
            Caution,
            "device.wet-open-board",
        ),
        flaw(
            "oil beside an open pack",
            vec![("device/surroundings", json!({"chemicals": true}))],
            Caution,
            "device.chemicals-open-pack",
        ),
        flaw(
            "knocks, and leads that nobody spoke of",
            vec![("device/surroundings", json!({"shocks": true}))],
            Caution,
            "device.knocks-unheld",
        ),
        flaw(
            "6.4 V printed on two lithium cells",
            vec![("device/original/label_v", json!(6.4))],
            Caution,
            "device.label-volts",
        )
        .given(vec![
            (
                "device/original",
                json!({"chemistry": "li_ion", "series": 2, "label_v": 7.4, "charger_fits": false,
                "cells_fit": false}),
            ),
            ("device/kind", json!("electronics")),
        ]),
        flaw(
            "an hour at 0.27 A out of a label of 1 Ah",
            vec![("device/original/run_s", known(3600.0))],
            Caution,
            "device.old-run-doubtful",
        )
        .given(vec![
            ("device/loads/0/draw/value_a", known(0.27)),
            ("device/loads/1/draw/value_a", known(0.5)),
            ("device/original/capacity_ah", known(1.0)),
            ("fuse/rating_a", json!(1.0)),
        ]),
        flaw("old bay still wired", vec![("device/original/cells_fit", json!(true))], Stop, "device.old-cells-fit"),
        flaw(
            "wire pulled without a photograph",
            vec![("device/apart", apart(true, true))],
            Note,
            "device.pulled-unseen@plug",
        ),
        flaw(
            "leads cut before it was proved",
            vec![("device/apart", apart(false, false))],
            Caution,
            "device.no-way-back-unproved",
        ),
        flaw(
            "old charger far over its label",
            vec![("device/original/charger_label_v", json!(12.0)), ("device/original/charger_v", known(17.4))],
            Note,
            "device.charger-unregulated",
        ),
        flaw(
            "old charger under its label",
            vec![("device/original/charger_label_v", json!(12.0)), ("device/original/charger_v", known(10.5))],
            Note,
            "device.charger-under-label",
        ),
        flaw(
            "lowest volts read on a useless range",
            vec![("device/lowest_v", json!({"value": 9.0, "how": "measured", "error": 8.0}))],
            Caution,
            "device.error-decides@device.lowest_v",
        ),
        flaw(
            "soft start bypassed",
            vec![("device/brains", json!({"soft_start": true, "soft_start_kept": false}))],
            Caution,
            "device.soft-start-bypassed",
        ),
        flaw(
            "cut-out above the selector's lower setting",
            vec![
                ("device/brains", json!({"selector": true, "selector_low_v": known(9.5)})),
                ("device/cutout_v", known(10.0)),
            ],
            Stop,
            "device.lower-setting-never-runs",
        ),
        flaw(
            "a pack that names itself",
            vec![("device/brains", json!({"identity_pins": true}))],
            Note,
            "device.wants-identity",
        ),
        flaw(
            "a pack that tells how warm it is",
            vec![("device/brains", json!({"temperature_pins": true}))],
            Note,
            "device.wants-temperature",
        ),
        flaw(
            "a contact that the device's charger feeds, and nothing said of that",
            vec![contacts("battery_plus", "charging_v", 14.6)],
            Caution,
            "device.contact-charges@one",
        )
        .given(vec![contacts("battery_plus", "off_v", 14.6)]),
        flaw(
            "plus read twelve volts below minus",
            vec![contacts("battery_plus", "off_v", -12.3)],
            Stop,
            "device.contact-reversed@one",
        )
        .given(vec![contacts("battery_plus", "off_v", 12.3)]),
        flaw(
            "a small contact that the device feeds",
            vec![contacts("sense", "on_v", 2.9)],
            Caution,
            "device.contact-sensed@one",
        )
        .given(vec![contacts("sense", "on_v", 0.1)]),
        flaw(
            "a gauge made for a battery of 20 V",
            vec![(
                "device/brains",
                json!({"alarms": [{"name": "half", "at_v": known(17.5)}, {"name": "low", "at_v": known(13.0)}]}),
            )],
            Caution,
            "device.alarm-not-rescaled@0",
        ),
        flaw(
            "air holes in the rain",
            vec![("device/surroundings", json!({"wet": true, "vented": true}))],
            Caution,
            "device.vented-in-the-wet",
        ),
    ]
}
