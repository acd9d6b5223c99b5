//! One flaw at a time in a sound plan, with the finding it must bring.

use brick_core::assess::Severity;
use serde_json::{Value, json};

mod feeding;
mod laying;
mod sharing;

use super::{charger, known, module, sound};

/// A flaw: what is changed, the finding it must bring.
#[derive(Clone)]
pub struct Flaw {
    pub name: &'static str,
    /// Changes that are themselves sound, made before the flaw.
    pub given: Vec<(&'static str, Value)>,
    pub flaw: Vec<(&'static str, Value)>,
    pub brings: &'static str,
    pub severity: Severity,
    /// Other findings that rightly come with it.
    pub along: &'static [&'static str],
}

fn flaw(name: &'static str, flaw: Vec<(&'static str, Value)>, severity: Severity, brings: &'static str) -> Flaw {
    Flaw { name, given: vec![], flaw, brings, severity, along: &[] }
}

impl Flaw {
    fn given(mut self, given: Vec<(&'static str, Value)>) -> Self {
        self.given = given;
        self
    }

    fn along(mut self, along: &'static [&'static str]) -> Self {
        self.along = along;
        self
    }
}

fn none() -> Value {
    json!({"state": "none"})
}

fn converter(topology: &str, output_v: f64) -> Value {
    module(
        "converter",
        json!({"converts": {"topology": topology, "output_v": output_v, "wired_in": false, "efficiency": 0.9}}),
    )
}

/// One step of taking apart, done.
fn apart(pulls_wire: bool, reversible: bool) -> Value {
    json!([{"id": "plug", "what": "Take the plug off", "pulls_wire": pulls_wire, "reversible": reversible, "done": true}])
}

/// The sound plan behind a step-down converter at 9 V.
fn bucked() -> Vec<(&'static str, Value)> {
    vec![("converter", converter("buck", 9.0)), ("device/original/series", json!(8)), ("fuse/rating_a", json!(15.0))]
}

/// Chosen cells in so many groups of two; the last has a capacity and rests at volts of its own.
fn chosen(groups: usize, last_ah: f64, last_v: f64) -> Value {
    let cell = |g: usize, k: usize| {
        let last = g + 1 == groups && k == 1;
        let (ah, v) = if last { (last_ah, last_v) } else { (2.5, 4.1) };
        json!({"label": format!("C{g}{k}"), "capacity_ah": ah, "resistance_ohm": 0.03, "rested_v": v})
    };
    (0..groups).map(|g| json!({"cells": [cell(g, 0), cell(g, 1)]})).collect()
}

/// Sources of the thresholds: PRACTICE figures are common practice without a source unless one is named.
pub fn flaws() -> Vec<Flaw> {
    [on_the_line(), feeding::flaws(), laying::flaws(), sharing::flaws()].concat()
}

fn on_the_line() -> Vec<Flaw> {
    use Severity::{Caution, Note, Stop};
    vec![
        flaw("highest volts unknown", vec![("device/highest_v", Value::Null)], Caution, "device.highest-assumed")
            .along(&["voltage.full-in-tolerance"]),
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
            "buck set to 11.5 V",
            vec![("converter/converts/output_v", json!(11.5)), ("device/original/series", json!(10))],
            Stop,
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
            .along(&["run.baggage", "protection.bleed-weak"]),
        flaw("3.8 Ah on an 18650", vec![("cell/rated_ah", json!(3.8))], Caution, "cells.doubtful-claim")
            .along(&["run.baggage", "protection.bleed-weak"]),
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
        flaw("hobby label", vec![("cell/origin", json!("hobby"))], Note, "cells.hobby-label"),
        flaw(
            "salvaged and untested",
            vec![("cell/origin", json!("salvaged")), ("cell/tested", json!(false))],
            Caution,
            "cells.salvaged-untested",
        ),
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
        flaw(
            "neither fuse nor board",
            vec![("board", none()), ("fuse", none()), ("device/cutout_v", known(12.0))],
            Stop,
            "protection.no-over-current",
        ),
        flaw("board for three", vec![("board/protects/series", json!(3))], Stop, "protection.other-series"),
        flaw(
            "board for phosphate",
            vec![("board/protects/over_charge_v", json!(3.75))],
            Stop,
            "protection.other-chemistry",
        )
        .along(&["charging.ended-by-guard"]),
        flaw("board for 8 A", vec![("board/protects/continuous_a", json!(8.0))], Stop, "protection.board-over-current"),
        flaw("trip at 22 A", vec![("board/protects/trip_a", known(22.0))], Caution, "protection.trip-in-peak"),
        flaw(
            "trip at 150 A, no fuse",
            vec![("fuse", none()), ("board/protects/trip_a", known(150.0))],
            Caution,
            "protection.trip-above-cells",
        ),
        flaw(
            "no balancer, driven at 3.6 C",
            vec![
                ("packs/0/parallel", json!(1)),
                ("fuse/rating_a", json!(15.0)),
                ("board/protects/bleed_a", json!(0.0)),
                ("device/wanted_run_s", Value::Null),
            ],
            Caution,
            "protection.no-balancing",
        ),
        flaw("balancer of 20 mA", vec![("board/protects/bleed_a", json!(0.02))], Note, "protection.bleed-weak"),
        flaw(
            "no sensor, driven at 3.6 C",
            vec![
                ("packs/0/parallel", json!(1)),
                ("board/protects/senses_temperature", json!(false)),
                ("device/wanted_run_s", Value::Null),
            ],
            Caution,
            "protection.no-temperature",
        ),
        flaw("board wants waking", vec![("board/protects/wants_waking", json!(true))], Note, "protection.wants-waking"),
        flaw("drains in days", vec![("board/standby_a", json!(0.001))], Caution, "protection.reserve-drains"),
        flaw("42 V through a 32 V fuse", vec![("fuse/dc_v", json!(12.0))], Stop, "protection.fuse-volts"),
        // IEC 60127-2 makes no DC claim.
        flaw("glass fuse without DC rating", vec![("fuse/dc_v", Value::Null)], Stop, "protection.fuse-not-dc"),
        flaw("fuse breaks 35 A", vec![("fuse/breaking_a", json!(35.0))], Stop, "protection.fuse-breaking"),
        flaw("20 A fuse on 16 AWG", vec![("fuse/rating_a", json!(20.0))], Stop, "protection.fuse-above-wire@lead"),
        flaw(
            "15 A fuse on a 12 A plug",
            vec![("plug/continuous_a", json!(12.0))],
            Stop,
            "protection.fuse-above-connector@plug",
        )
        .along(&["wiring.connector-peak@plug"]),
        flaw("7.5 A fuse for 9 A", vec![("fuse/rating_a", json!(7.5))], Caution, "protection.fuse-nuisance"),
        flaw(
            "9.5 A glass fuse for a 20 A start of 8 s",
            vec![
                ("fuse/style", json!("glass_fast")),
                ("fuse/rating_a", json!(9.5)),
                ("device/loads/1/duration_s", json!(8.0)),
                ("cell/pulse_s", json!(10.0)),
            ],
            Caution,
            "protection.fuse-peak",
        ),
        flaw(
            "fuse four times the load",
            vec![("device/loads/0/draw/value_a", known(2.0)), ("device/loads/1/draw/value_a", known(5.0))],
            Caution,
            "protection.fuse-oversized",
        ),
        // IEC 62133-2: never above 4.25 V; 17.0 V on four cells is 4.25 V each.
        flaw(
            "supply at 17.0 V on four cells",
            vec![("charger/charges/output_v", known(17.0))],
            Stop,
            "charging.over-volts",
        ),
        flaw("charger 0.6 % high", vec![("charger/charges/output_v", known(16.9))], Caution, "charging.slightly-over"),
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
            "24 AWG for 9 A",
            vec![("lead/wire/part/size/awg", json!(24)), ("lead/length_mm", json!(100.0))],
            Stop,
            "wiring.wire-over-current@lead",
        )
        .along(&["protection.fuse-above-wire@lead", "wiring.thinner-than-before@lead"]),
        // IEC 60364-4-43: 143 x 0.205 mm2 / sqrt(0.4 s) = 46 A for 24 AWG; the strips bear it, the wire does not.
        flaw(
            "a stall of 65 A over 24 AWG",
            vec![
                ("device/loads/0/draw/value_a", known(2.0)),
                ("device/loads/1/draw/value_a", known(65.0)),
                ("lead/wire/part/size/awg", json!(24)),
                ("fuse/rating_a", json!(3.0)),
                ("device/original/wire", Value::Null),
                ("lead/length_mm", json!(50.0)),
                ("device/lowest_v", known(5.0)),
            ],
            Stop,
            "wiring.wire-over-peak@lead",
        )
        .along(&[
            "wiring.connector-peak@plug",
            "wiring.switch-peak@switch",
            "protection.fuse-peak",
            "protection.trip-in-peak",
        ]),
        flaw(
            "thinner than before",
            vec![("device/original/wire/awg", json!(14))],
            Caution,
            "wiring.thinner-than-before@lead",
        ),
        flaw("two metres of lead", vec![("lead/length_mm", json!(2500.0))], Caution, "wiring.drop"),
        flaw("plug for 8 A", vec![("plug/continuous_a", json!(8.0))], Stop, "wiring.connector-over-current@plug")
            .along(&["protection.fuse-above-connector@plug"]),
        flaw(
            "a start of 20 A through a plug for 16",
            vec![("plug/continuous_a", json!(16.0))],
            Caution,
            "wiring.connector-peak@plug",
        ),
        flaw(
            "a start of 20 A through a switch for 16",
            vec![("switch/continuous_a", json!(16.0))],
            Caution,
            "wiring.switch-peak@switch",
        ),
        flaw("plug for 12 V", vec![("plug/dc_v", json!(12.0))], Stop, "wiring.connector-volts@plug"),
        flaw("bare live pins", vec![("plug/live_pins_bare", json!(true))], Stop, "wiring.bare-live-pins@plug"),
        flaw("unkeyed plug", vec![("plug/keyed", json!(false))], Caution, "wiring.unkeyed@plug"),
        flaw("switch for 6 A", vec![("switch/continuous_a", json!(6.0))], Stop, "wiring.switch-over-current@switch"),
        flaw("switch for 12 V", vec![("switch/dc_v", json!(12.0))], Stop, "wiring.switch-volts@switch"),
        flaw("switch for AC", vec![("switch/dc_v", Value::Null)], Caution, "wiring.switch-not-dc@switch"),
        flaw(
            "old battery ran an hour",
            vec![("device/original/run_s", known(3600.0)), ("device/wanted_run_s", Value::Null)],
            Caution,
            "run.shorter-than-before",
        ),
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
        flaw("four in parallel", vec![("packs/0/parallel", json!(4))], Note, "run.baggage")
            .along(&["protection.bleed-weak"]),
        flaw(
            "charger wired past the board",
            vec![("runs/7/to", json!("pack"))],
            Stop,
            "protection.charger-round-board",
        ),
        flaw(
            "board between jack and pack only",
            vec![
                (
                    "runs/0",
                    json!({"id": "pack-board", "from": "pack", "to": "fuse", "wire": {"state": "none"}, "length_mm": null}),
                ),
                (
                    "runs/1",
                    json!({"id": "board-fuse", "from": "pack", "to": "board", "wire": {"state": "none"}, "length_mm": null}),
                ),
                ("device/cutout_v", known(12.0)),
            ],
            Caution,
            "protection.charge-side-only",
        ),
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
        // A re-arm difference of 0.1 V against a rebound of 9 A x the resistance of the way.
        flaw(
            "cut-off closes again after 0.1 V",
            vec![("cutoff", module("cut-off board", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 12.5}})))],
            Caution,
            "protection.cutoff-chatter",
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
        flaw(
            "the device charges its battery itself",
            vec![("device/brains", json!({"charges_itself": true}))],
            Caution,
            "charging.host-charges",
        ),
        flaw("used in an oven", vec![("environment/use_max_c", json!(65.0))], Stop, "run.over-60"),
        // Half full 14.4 V; 1.2 m of 24 AWG (84 milliohm/m both ways doubled) takes what a device of 13.5 V needs.
        flaw(
            "a thin lead before a device that needs 13.6 V",
            vec![
                ("lead/wire/part/size/awg", json!(18)),
                ("lead/length_mm", json!(900.0)),
                ("device/lowest_v", known(13.6)),
                ("device/original/wire", Value::Null),
                ("device/wanted_run_s", Value::Null),
                ("fuse/rating_a", json!(12.0)),
            ],
            Stop,
            "wiring.drop-below-device",
        )
        .along(&["voltage.charge-unused", "run.brown-out", "protection.fuse-peak"]),
        // 2.5 mm2 of nickel bear 10.7 A at 4.27 A/mm2: enough for the load, not for what the fuse lets pass.
        flaw(
            "15 A fuse over strips for 10.7",
            vec![
                ("strip/side_by_side", json!(1)),
                ("strip/width_mm", json!(10.0)),
                ("strip/thickness_mm", json!(0.25)),
            ],
            Stop,
            "protection.fuse-above-strips",
        ),
        flaw("two packs", vec![("packs", json!([]))], Caution, "voltage.other-packs"),
    ]
}

/// Two packs need a second pack node; the list is built from the sound plan.
pub fn changes_of(flaw: &Flaw) -> Vec<(&'static str, Value)> {
    if flaw.brings != "voltage.other-packs" {
        return flaw.flaw.clone();
    }
    let plan = serde_json::to_value(sound()).unwrap();
    let mut second = plan["packs"][0].clone();
    second["id"] = json!("pack-two");
    let mut nodes = plan["nodes"].as_array().unwrap().clone();
    nodes.push(json!({"id": "pack-two", "kind": "pack", "part": {"state": "none"}}));
    vec![("packs", json!([plan["packs"][0], second])), ("nodes", json!(nodes))]
}
