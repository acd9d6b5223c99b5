//! Flaws of the charger and its supply.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::{Flaw, charger, flaw, known, module, none};

/// Volts of the groups at rest, read to 2 mV.
fn groups(volts: &[f64]) -> Value {
    volts.iter().map(|v| json!({"value": v, "how": "measured", "error": 0.002})).collect()
}

/// A charge module for four cells with whatever else is known of it.
fn fed(more: Value) -> Value {
    let mut charges = json!({"kind": "cc_cv", "output_v": known(16.8), "output_a": 2.0, "efficiency": 0.9,
        "own_supply": false});
    for (key, value) in more.as_object().into_iter().flatten() {
        charges[key] = value.clone();
    }
    module("charge module", json!({"charges": charges}))
}

fn supply(output_v: f64, output_a: f64) -> Value {
    module("wall supply", json!({"supplies": {"output_v": output_v, "output_a": output_a}}))
}

/// A device that charges its battery itself, and what becomes of that.
fn host(becomes: Value) -> Vec<(&'static str, Value)> {
    vec![
        ("device/brains", json!({"charges_itself": true, "charge_v": known(17.4)})),
        ("charging", json!({"host": becomes, "host_isolated": true})),
    ]
}

pub fn flaws() -> Vec<Flaw> {
    [charger_and_cells(), fed_and_read()].concat()
}

/// What feeds the charger, what else charges, and what was read on its contacts.
fn fed_and_read() -> Vec<Flaw> {
    vec![
        flaw("a supply of 24 V on a module for 20", vec![("supply", supply(24.0, 3.0))], Stop, "charging.supply-volts")
            .given(vec![("charger", fed(json!({"input_max_v": 20.0}))), ("supply", supply(20.0, 3.0))]),
        // 37.3 W from 20 V through 2 m of 26 AWG, 0.54 ohm both ways: 1.97 A, and 18.9 V arrive.
        flaw(
            "a thin cable to a module that wants 19 V",
            vec![
                (
                    "runs/9/wire",
                    json!({"state": "chosen", "part": {"offer": {"name": "thin cable"}, "insulation": "pvc",
                    "size": {"standard": "awg", "awg": 26}, "bundled": false}}),
                ),
                ("runs/9/length_mm", json!(2000.0)),
            ],
            Caution,
            "charging.supply-low",
        )
        .given(vec![("charger", fed(json!({"input_min_v": 19.0}))), ("supply", supply(20.0, 3.0))]),
        flaw(
            "5 V for a module of four cells that does not say it steps up",
            vec![("charger", fed(json!({"output_a": 0.3}))), ("supply", supply(5.0, 3.0))],
            Caution,
            "charging.supply-below-end",
        )
        .given(vec![("charger", fed(json!({"output_a": 0.3, "input_min_v": 4.5}))), ("supply", supply(5.0, 3.0))]),
        flaw(
            "a current printed without its side",
            vec![("charger", fed(json!({"output_a": null, "printed_a": 2.0})))],
            Caution,
            "charging.unknown-side",
        )
        .given(vec![("supply", supply(20.0, 5.0)), ("charger", fed(json!({})))]),
        // Stated 16.8 V ± 2 % is up to 4.284 V a cell; IEC 62133-2: never above 4.25 V.
        flaw(
            "a stated end within 2 %",
            vec![(
                "charger",
                module(
                    "wall charger",
                    json!({"charges": {"kind": "cc_cv",
                    "output_v": {"value": 16.8, "how": "stated"}, "output_a": 2.0, "tolerance": 0.02, "own_supply": true}}),
                ),
            )],
            Caution,
            "charging.end-unsure",
        ),
        flaw(
            "a charger that begins again at 16.75 V",
            vec![("charger/charges/restart_v", json!(16.75))],
            Caution,
            "charging.restarts",
        ),
        // 5 Ah at 2 mA are 104 days.
        flaw(
            "a charger that takes 2 mA back",
            vec![("charger/charges/back_leak_a", json!(0.002))],
            Caution,
            "charging.back-leak",
        ),
        flaw(
            "plus inside the jack, minus inside the plug",
            vec![("charging", json!({"jack_v": known(16.2), "plug_v": known(-16.8)}))],
            Stop,
            "charging.polarity",
        )
        .given(vec![("charging", json!({"jack_v": known(16.2), "plug_v": known(16.8)}))]),
        flaw(
            "the host's circuit for nickel kept on the pack",
            host(json!("charges_pack")),
            Stop,
            "charging.host-reused",
        )
        .given(host(json!("cut_off"))),
        // 17.4 V on four cells are 4.35 V a cell; IEC 62133-2: never above 4.25 V.
        flaw(
            "a lithium host's circuit made for 4.35 V",
            [host(json!("charges_pack")), vec![("device/original", lithium())]].concat(),
            Stop,
            "charging.host-over-volts",
        )
        .given([host(json!("followed")), vec![("device/original", lithium())]].concat())
        .along(&["charging.two-chargers"]),
        flaw(
            "a followed host that is fed from behind",
            vec![("charging/host_isolated", json!(false))],
            Caution,
            "charging.host-node-fed",
        )
        .given(host(json!("followed"))),
        flaw(
            "a host that charges the pack, and a wall charger",
            vec![("charger", charger(16.8, 2.0))],
            Caution,
            "charging.two-chargers",
        )
        .given(vec![
            ("device/original", lithium()),
            ("device/brains", json!({"charges_itself": true, "charge_v": known(16.8)})),
            ("charging", json!({"host": "charges_pack"})),
            ("charger", none()),
            ("jack", none()),
        ]),
    ]
}

/// An original of four lithium cells.
fn lithium() -> Value {
    json!({"chemistry": "li_ion", "series": 4, "capacity_ah": known(1.7), "charger_fits": false, "cells_fit": false})
}

/// The charger against cells, board, jack and weather.
fn charger_and_cells() -> Vec<Flaw> {
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
        ),
        flaw(
            "a group read at 4.31 V",
            vec![("packs/0/group_v", groups(&[4.18, 4.18, 4.31, 4.18]))],
            Stop,
            "cells.over-charged@group-3",
        ),
        flaw(
            "a group read at 4.23 V",
            vec![("packs/0/group_v", groups(&[4.20, 4.23, 4.20, 4.20]))],
            Caution,
            "cells.above-full@group-2",
        ),
        flaw(
            "a group read at 1.7 V",
            vec![("packs/0/group_v", groups(&[3.6, 3.6, 3.6, 1.7]))],
            Stop,
            "cells.below-floor@group-4",
        ),
        flaw(
            "a tap that reads two cells",
            vec![("packs/0/group_v", groups(&[3.7, 7.4, 3.7, 3.7]))],
            Stop,
            "wiring.tap-misplaced@group-2",
        )
        .along(&["charging.groups-apart"]),
        flaw(
            "a tap that reads minus",
            vec![("packs/0/group_v", groups(&[3.7, 3.7, -3.7, 3.7]))],
            Stop,
            "wiring.tap-misplaced@group-3",
        )
        .along(&["charging.groups-apart"]),
        flaw(
            "groups that miss their pack by half a volt",
            vec![("charging/cells_v", known(15.3))],
            Caution,
            "charging.readings-disagree",
        )
        .given(vec![("packs/0/group_v", groups(&[3.7, 3.7, 3.7, 3.7])), ("charging/cells_v", known(14.8))]),
        flaw(
            "a pack that reads 17.4 V at its cells",
            vec![("charging/cells_v", known(17.4))],
            Stop,
            "cells.over-charged@pack",
        )
        .given(vec![("charging/cells_v", known(16.6))]),
        flaw(
            "1 C at 3 °C",
            vec![("environment/charge_min_c", json!(3.0)), ("charger", charger(16.8, 4.5))],
            Caution,
            "charging.cold-fast",
        )
        .given(vec![("charger", charger(16.8, 4.5))]),
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
        flaw(
            "a bench supply as charger",
            vec![("charger/charges/ends_itself", json!(false))],
            Caution,
            "charging.never-ends",
        ),
        flaw("board takes 1 A", vec![("board/protects/charge_a", json!(1.0))], Stop, "charging.over-board"),
        flaw(
            "hobby charger of 6 A on a plug for 5 A",
            vec![("charger", fed(json!({"output_a": 6.0, "balance_a": 0.3, "own_supply": true})))],
            Stop,
            "charging.over-jack@plug",
        )
        .given(vec![
            ("jack", json!({"state": "none"})),
            ("plug/continuous_a", json!(5.0)),
            ("board/protects/charge_a", json!(12.0)),
            ("charger", fed(json!({"output_a": 6.0, "own_supply": true}))),
        ]),
        flaw("jack for 1 A", vec![("jack/continuous_a", json!(1.0))], Stop, "charging.over-jack@jack"),
        flaw(
            "5 V 2 A for 1.2 A into four cells",
            vec![
                (
                    "charger",
                    module(
                        "charge module",
                        json!({"charges": {"kind": "cc_cv", "output_v": known(16.8), "output_a": 1.2,
                "input_min_v": 4.5, "efficiency": 0.88, "own_supply": false}}),
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
        flaw("a trickle of 0.3 A", vec![("charger", charger(16.8, 0.3))], Caution, "charging.slow"),
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
