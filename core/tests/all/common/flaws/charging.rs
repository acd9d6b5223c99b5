//! Flaws of the charger and its supply.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, charger, flaw, known, module, none};

/// Volts of the groups at rest, read to 2 mV.
fn groups(volts: &[f64]) -> Value {
    volts.iter().map(|v| json!({"value": v, "how": "measured", "error": 0.002})).collect()
}

pub fn flaws() -> Vec<Flaw> {
    vec![
        // IEC 62133-2: never above 4.25 V; 17.0 V on four cells is 4.25 V each.
        flaw(
            "supply at 17.0 V on four cells",
            vec![("charger/charges/output_v", known(17.0))],
            Stop,
            "charging.over-volts",
        ),
        flaw("charger 0.6 % high", vec![("charger/charges/output_v", known(16.9))], Caution, "charging.slightly-over"),
        // 17.1 V, where 16.8 V were meant and 1 % over is the most.
        flaw(
            "charger that ended at 17.1 V on the bench",
            vec![(
                "arrivals",
                json!([{"place": "charger", "test": "end", "part": "wall charger", "reading": known(17.1)}]),
            )],
            Stop,
            "charging.failed-on-arrival@charger",
        ),
        // 3.7 V against 3.9 V is a fifth of the charge of a nickel-rich cell.
        flaw(
            "one group 0.2 V under the others",
            vec![("packs/0/group_v", groups(&[3.9, 3.9, 3.9, 3.7]))],
            Caution,
            "charging.groups-apart",
        ),
        // 30 mV are some 3 % of 5 Ah: 7 h at 20 mA, and the charge ends at 0.25 A.
        flaw(
            "30 mV apart and a bleeder of 20 mA",
            vec![("packs/0/group_v", groups(&[3.90, 3.90, 3.90, 3.87])), ("board/protects/bleed_a", json!(0.02))],
            Caution,
            "charging.balancing-long",
        )
        .along(&["protection.bleed-weak"]),
        flaw("charge to 4.1 V", vec![("charger/charges/output_v", known(16.4))], Note, "charging.below-full"),
        flaw("charger for three", vec![("charger/charges/output_v", known(12.6))], Stop, "charging.other-count"),
        flaw(
            "guard at 4.19 V",
            vec![("board/protects/over_charge_v", json!(4.19))],
            Caution,
            "charging.ended-by-guard",
        )
        .along(&["protection.other-chemistry"]),
        flaw("nickel charger", vec![("charger/charges/kind", json!("nickel"))], Stop, "charging.old-charger"),
        flaw(
            "converter as charger",
            vec![("charger/charges/kind", json!("fixed_volts"))],
            Stop,
            "charging.no-current-limit",
        ),
        flaw(
            "10 A into cells for 8",
            vec![
                ("charger", charger(16.8, 10.0)),
                ("board/protects/charge_a", json!(12.0)),
                ("jack/continuous_a", json!(12.0)),
            ],
            Stop,
            "charging.over-cells",
        ),
        flaw(
            "charge limit unknown, 1.2 C",
            vec![("cell/charge_a", Value::Null), ("charger", charger(16.8, 6.0)), ("jack/continuous_a", json!(12.0))],
            Caution,
            "charging.fast",
        ),
        flaw("board takes 1 A", vec![("board/protects/charge_a", json!(1.0))], Stop, "charging.over-board"),
        flaw("jack for 1 A", vec![("jack/continuous_a", json!(1.0))], Stop, "charging.over-jack@jack"),
        flaw(
            "5 V 2 A for 1.2 A into four cells",
            vec![
                (
                    "charger",
                    module(
                        "charge module",
                        json!({"charges": {"kind": "cc_cv", "output_v": known(16.8), "output_a": 1.2,
                "efficiency": 0.88, "own_supply": false}}),
                    ),
                ),
                ("supply", module("wall supply", json!({"supplies": {"output_v": 5.0, "output_a": 2.0}}))),
            ],
            Caution,
            "charging.supply-weak",
        ),
        flaw(
            "a charge module without a supply",
            vec![(
                "charger",
                module(
                    "charge module",
                    json!({"charges": {"kind": "cc_cv", "output_v": known(16.8), "output_a": 2.0,
                "own_supply": false}}),
                ),
            )],
            Caution,
            "charging.no-supply",
        ),
        flaw("a trickle of 0.3 A", vec![("charger", charger(16.8, 0.3))], Note, "charging.slow"),
        flaw("no switch", vec![("switch", none())], Caution, "charging.load-on"),
        flaw(
            "old charger fits",
            vec![("device/original/charger_fits", json!(true))],
            Caution,
            "charging.old-charger-fits",
        ),
        flaw(
            "charged at -5 C without a sensor",
            vec![("environment/charge_min_c", json!(-5.0)), ("board/protects/senses_temperature", json!(false))],
            Caution,
            "charging.freezing",
        ),
        flaw("charged in the sun", vec![("environment/charge_max_c", json!(50.0))], Caution, "charging.hot"),
        flaw(
            "the device charges its battery itself",
            vec![("device/brains", json!({"charges_itself": true}))],
            Caution,
            "charging.host-charges",
        ),
    ]
}
