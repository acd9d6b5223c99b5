//! Sound conversions of every kind must come out without a stop, and nearly quiet.

use crate::common;

use brick_core::Plan;
use brick_core::assess::{FillsFrom, Severity, WhatIf, assess, fills};
use common::{demo_part, known, with};
use serde_json::{Value, json};

/// A sound conversion: the device, the pack, the parts by catalogue id (`none` decides against one).
struct Sound {
    name: &'static str,
    device: Value,
    /// Chemistry, series, parallel, cell.
    pack: (&'static str, u32, u32, &'static str),
    strip: &'static str,
    parts: [(&'static str, &'static str); 9],
    lead: &'static str,
    /// Cautions that rightly stay.
    cautions: &'static [&'static str],
}

fn amps(id: &str, a: f64, duration_s: Option<f64>) -> Value {
    json!({"id": id, "name": id, "draw": {"as": "current", "value_a": known(a)}, "duration_s": duration_s})
}

fn device(kind: &str, original: (&str, u32), window: (Option<f64>, Option<f64>), loads: Value) -> Value {
    json!({
        "kind": kind,
        "original": {"chemistry": original.0, "series": original.1, "charger_fits": false, "cells_fit": false},
        "lowest_v": window.0.map(known),
        "highest_v": window.1.map(known),
        "loads": loads,
    })
}

fn conversions() -> Vec<Sound> {
    vec![
        Sound {
            name: "handheld with a removable 2-series pack, charged from 5 V",
            device: device("electronics", ("li_ion", 2), (Some(6.0), Some(8.4)), json!([amps("on", 0.6, None)])),
            pack: ("li_ion", 2, 1, "cell-energy-18650"),
            strip: "strip-ni-015x8",
            parts: [
                ("board", "board-li-2s-10"),
                ("fuse", "fuse-blade-3"),
                ("switch", "switch-10a-dc"),
                ("plug", "plug-15a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charge-module-2s"),
                ("supply", "supply-5v-2.5a"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-18",
            cautions: &[],
        },
        Sound {
            name: "three alkaline cells replaced by one flat cell behind a charge-and-protect module",
            device: device("electronics", ("alkaline", 3), (Some(3.0), Some(4.8)), json!([amps("on", 0.4, None)])),
            pack: ("li_ion", 1, 1, "cell-middle-18650"),
            strip: "strip-ni-015x8",
            parts: [
                ("board", "board-li-1s"),
                ("fuse", "none"),
                ("switch", "switch-10a-dc"),
                ("plug", "none"),
                ("converter", "none"),
                ("jack", "jack-2a"),
                ("charger", "board-li-1s"),
                ("supply", "supply-5v-2a"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-20",
            cautions: &["voltage.last-resort-guard"],
        },
        Sound {
            name: "lead-acid pump on phosphate blocks",
            device: device(
                "fan_or_pump",
                ("lead_acid", 6),
                (Some(10.0), Some(14.7)),
                json!([amps("pump", 12.0, None), amps("start", 25.0, Some(0.3))]),
            ),
            pack: ("li_fe_po4", 4, 2, "cell-lfp-32700"),
            strip: "strip-ni-03x10",
            parts: [
                ("board", "board-lfp-4s-20"),
                ("fuse", "fuse-blade-20"),
                ("switch", "switch-30a-dc"),
                ("plug", "plug-30a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charger-lfp-4s-5a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-12",
            cautions: &[],
        },
        Sound {
            name: "mount on regulated 12 V from three cells",
            device: device(
                "electronics",
                ("lead_acid", 6),
                (Some(11.0), Some(13.0)),
                json!([amps("tracking", 0.8, None), amps("slewing", 1.8, Some(8.0))]),
            ),
            pack: ("li_ion", 3, 2, "cell-energy-21700"),
            strip: "strip-ni-015x8",
            parts: [
                ("board", "board-li-3s-10"),
                ("fuse", "fuse-blade-5"),
                ("switch", "switch-10a-dc"),
                ("plug", "plug-15a"),
                ("converter", "converter-buckboost-12"),
                ("jack", "jack-5a"),
                ("charger", "charger-li-3s-2a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-18",
            cautions: &[],
        },
        Sound {
            name: "detector of eight primary cells on three cells direct",
            device: device(
                "electronics",
                ("alkaline", 8),
                (Some(8.0), Some(12.8)),
                json!([amps("search", 0.25, None)]),
            ),
            pack: ("li_ion", 3, 1, "cell-middle-18650"),
            strip: "strip-ni-015x8",
            parts: [
                ("board", "board-li-3s-10"),
                ("fuse", "fuse-blade-3"),
                ("switch", "switch-10a-dc"),
                ("plug", "plug-15a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charger-li-3s-2a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-20",
            cautions: &[],
        },
        Sound {
            name: "toy of two phosphate cells on two cobalt cells, sixteen per cent faster",
            device: device(
                "motor",
                ("li_fe_po4", 2),
                (Some(5.0), Some(8.6)),
                json!([amps("drive", 3.0, None), amps("start", 8.0, Some(0.4))]),
            ),
            pack: ("li_ion", 2, 1, "cell-power-18650"),
            strip: "strip-ni-02x8-two",
            parts: [
                ("board", "board-li-2s-10"),
                ("fuse", "fuse-blade-7.5"),
                ("switch", "switch-10a-dc"),
                ("plug", "plug-15a"),
                ("converter", "none"),
                ("jack", "jack-2a"),
                ("charger", "charger-li-2s-1a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-16",
            cautions: &["voltage.faster-motor"],
        },
        Sound {
            name: "nickel drill on four cells with a stall",
            device: device(
                "motor",
                ("nickel", 12),
                (Some(9.0), Some(17.0)),
                json!([amps("drill", 10.0, None), amps("stall", 28.0, Some(0.5))]),
            ),
            pack: ("li_ion", 4, 2, "cell-power-18650"),
            strip: "strip-ni-02x8-two",
            parts: [
                ("board", "board-li-4s-30"),
                ("fuse", "fuse-blade-20"),
                ("switch", "switch-30a-dc"),
                ("plug", "plug-30a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charger-li-4s-2a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-14",
            cautions: &[],
        },
        Sound {
            name: "six-cell nickel vacuum on two cells, its limit only assumed",
            device: device("fan_or_pump", ("nickel", 6), (Some(5.0), None), json!([amps("suction", 9.0, None)])),
            pack: ("li_ion", 2, 2, "cell-power-18650"),
            strip: "strip-ni-02x8-two",
            parts: [
                ("board", "board-li-2s-30"),
                ("fuse", "fuse-blade-15"),
                ("switch", "switch-30a-dc"),
                ("plug", "plug-30a"),
                ("converter", "none"),
                ("jack", "jack-2a"),
                ("charger", "charger-li-2s-2a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-14",
            cautions: &["device.highest-assumed", "voltage.full-in-tolerance"],
        },
        Sound {
            name: "standby supply of 12 V from five cells through a step-down",
            device: device(
                "electronics",
                ("lead_acid", 6),
                (Some(11.0), Some(13.8)),
                json!([amps("router", 1.2, None)]),
            ),
            pack: ("li_ion", 5, 1, "cell-middle-18650"),
            strip: "strip-ni-015x8",
            parts: [
                ("board", "board-li-5s-10"),
                ("fuse", "fuse-blade-3"),
                ("switch", "switch-10a-dc"),
                ("plug", "plug-15a"),
                ("converter", "converter-buck-12"),
                ("jack", "jack-5a"),
                ("charger", "charger-li-5s-2a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-18",
            cautions: &[],
        },
        Sound {
            name: "model boat on a hobby pouch, its speed controller cuts out",
            device: {
                let mut d = device("motor", ("li_po", 3), (Some(9.0), Some(12.6)), json!([amps("cruise", 12.0, None)]));
                d["cutout_v"] = known(10.2);
                d
            },
            pack: ("li_po", 3, 1, "cell-lipo-2200"),
            strip: "none",
            parts: [
                ("board", "none"),
                ("fuse", "fuse-blade-20"),
                ("switch", "switch-30a-dc"),
                ("plug", "plug-60a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charger-li-3s-2a"),
                ("supply", "none"),
                ("alarm", "alarm-taps"),
            ],
            lead: "wire-awg-12",
            cautions: &["protection.reserve-drains"],
        },
        Sound {
            name: "24 V reading lamp on eight phosphate cells",
            device: device(
                "resistive",
                ("lead_acid", 12),
                (Some(18.0), Some(29.5)),
                json!([
                {"id": "lamp", "name": "lamp", "draw": {"as": "resistance", "value_ohm": known(12.0)}}]),
            ),
            pack: ("li_fe_po4", 8, 1, "cell-lfp-32700"),
            strip: "strip-ni-015x8",
            parts: [
                ("board", "board-lfp-8s-20"),
                ("fuse", "fuse-blade-5"),
                ("switch", "switch-30a-dc"),
                ("plug", "plug-15a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charger-lfp-8s-3a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-16",
            cautions: &[],
        },
        Sound {
            name: "heated vest of constant power on six cells",
            device: device(
                "electronics",
                ("li_ion", 6),
                (Some(17.0), Some(25.5)),
                json!([
                {"id": "warm", "name": "warm", "draw": {"as": "power", "value_w": known(40.0)}}]),
            ),
            pack: ("li_ion", 6, 1, "cell-power-21700"),
            strip: "strip-ni-02x8",
            parts: [
                ("board", "board-li-6s-20"),
                ("fuse", "fuse-blade-5"),
                ("switch", "switch-30a-dc"),
                ("plug", "plug-15a"),
                ("converter", "none"),
                ("jack", "jack-5a"),
                ("charger", "charger-li-6s-3a"),
                ("supply", "none"),
                ("alarm", "none"),
            ],
            lead: "wire-awg-16",
            cautions: &[],
        },
    ]
}

/// Board, fuse, switch, plug, converter, charger: with a jack of 5 A, a wall charger and no alarm.
fn usual(ids: [&'static str; 6]) -> [(&'static str, &'static str); 9] {
    let [board, fuse, switch, plug, converter, charger] = ids;
    [
        ("board", board),
        ("fuse", fuse),
        ("switch", switch),
        ("plug", plug),
        ("converter", converter),
        ("jack", "jack-5a"),
        ("charger", charger),
        ("supply", "none"),
        ("alarm", "none"),
    ]
}

/// More kinds of job, each with usual parts round it.
fn more_conversions() -> Vec<Sound> {
    let watts = |w: f64| json!([{"id": "on", "name": "on", "draw": {"as": "power", "value_w": known(w)}}]);
    let ohms = |ohm: f64| json!([{"id": "on", "name": "on", "draw": {"as": "resistance", "value_ohm": known(ohm)}}]);
    let make = |name, device, pack, strip, parts, lead| Sound { name, device, pack, strip, parts, lead, cautions: &[] };
    vec![
        make(
            "radio of six primary cells on two cells",
            device("electronics", ("alkaline", 6), (Some(5.5), Some(9.6)), json!([amps("loud", 0.3, None)])),
            ("li_ion", 2, 1, "cell-energy-18650"),
            "strip-ni-015x8",
            usual(["board-li-2s-10", "fuse-blade-3", "switch-10a-dc", "plug-15a", "none", "charger-li-2s-1a"]),
            "wire-awg-20",
        ),
        make(
            "grass shears of ten nickel cells on three power cells",
            device(
                "motor",
                ("nickel", 10),
                (Some(8.0), Some(14.2)),
                json!([amps("cutting", 7.0, None), amps("start", 18.0, Some(0.3))]),
            ),
            ("li_ion", 3, 2, "cell-power-18650"),
            "strip-ni-02x8-two",
            usual(["board-li-3s-30", "fuse-blade-15", "switch-30a-dc", "plug-30a", "none", "charger-li-3s-2a"]),
            "wire-awg-14",
        ),
        make(
            "camping lamp of a lead battery on four phosphate cells",
            device("resistive", ("lead_acid", 6), (Some(10.0), Some(15.0)), ohms(7.0)),
            ("li_fe_po4", 4, 1, "cell-lfp-32700"),
            "strip-ni-03x10",
            usual(["board-lfp-4s-20", "fuse-blade-3", "switch-10a-dc", "plug-15a", "none", "charger-lfp-4s-2a"]),
            "wire-awg-16",
        ),
        make(
            "12 V fan on three cells, as many as before",
            device("fan_or_pump", ("li_ion", 3), (Some(9.0), Some(12.6)), json!([amps("blowing", 1.5, None)])),
            ("li_ion", 3, 2, "cell-middle-18650"),
            "strip-ni-015x8",
            usual(["board-li-3s-10", "fuse-blade-3", "switch-10a-dc", "plug-15a", "none", "charger-li-3s-2a"]),
            "wire-awg-16",
        ),
        make(
            "router of 12 V from two cells stepped up",
            device("electronics", ("lead_acid", 6), (Some(11.0), Some(13.5)), json!([amps("on", 0.5, None)])),
            ("li_ion", 2, 2, "cell-energy-21700"),
            "strip-ni-015x8",
            usual([
                "board-li-2s-10",
                "fuse-blade-3",
                "switch-10a-dc",
                "plug-15a",
                "converter-boost-12",
                "charger-li-2s-1a",
            ]),
            "wire-awg-18",
        ),
        make(
            "24 V pump on eight phosphate cells",
            device(
                "fan_or_pump",
                ("lead_acid", 12),
                (Some(20.0), Some(29.4)),
                json!([amps("pump", 6.0, None), amps("start", 14.0, Some(0.3))]),
            ),
            ("li_fe_po4", 8, 1, "cell-lfp-32700"),
            "strip-ni-03x10",
            usual(["board-lfp-8s-20", "fuse-blade58-10", "switch-30a-dc", "plug-30a", "none", "charger-lfp-8s-3a"]),
            "wire-awg-14",
        ),
        make(
            "vacuum of sixteen nickel cells on five power cells",
            device("fan_or_pump", ("nickel", 16), (Some(14.0), Some(22.4)), json!([amps("suction", 10.0, None)])),
            ("li_ion", 5, 2, "cell-power-18650"),
            "strip-ni-02x8-two",
            usual(["board-li-5s-30", "fuse-blade-15", "switch-30a-dc", "plug-30a", "none", "charger-li-5s-2a"]),
            "wire-awg-12",
        ),
        make(
            "screwdriver of three cells with a stall",
            device(
                "motor",
                ("li_ion", 3),
                (Some(8.5), Some(12.6)),
                json!([amps("driving", 8.0, None), amps("stall", 24.0, Some(0.3))]),
            ),
            ("li_ion", 3, 2, "cell-power-18650"),
            "strip-ni-02x8-two",
            usual(["board-li-3s-30", "fuse-blade-20", "switch-30a-dc", "plug-30a", "none", "charger-li-3s-2a"]),
            "wire-awg-14",
        ),
        make(
            "slider on steady 12 V from four cells",
            device("electronics", ("lead_acid", 6), (Some(11.0), Some(13.0)), json!([amps("moving", 0.9, None)])),
            ("li_ion", 4, 1, "cell-middle-18650"),
            "strip-ni-015x8",
            usual([
                "board-li-4s-10",
                "fuse-blade-3",
                "switch-10a-dc",
                "plug-15a",
                "converter-buckboost-12",
                "charger-li-4s-1a",
            ]),
            "wire-awg-18",
        ),
        make(
            "head lamp of constant power on two cells",
            device("electronics", ("li_ion", 2), (Some(5.8), Some(8.5)), watts(6.0)),
            ("li_ion", 2, 2, "cell-energy-18650"),
            "strip-ni-015x8",
            usual(["board-li-2s-10", "fuse-blade-3", "switch-10a-dc", "plug-15a", "none", "charger-li-2s-1a"]),
            "wire-awg-18",
        ),
        make(
            "16 V instrument on five phosphate cells",
            device("electronics", ("lead_acid", 8), (Some(13.0), Some(19.0)), json!([amps("on", 1.0, None)])),
            ("li_fe_po4", 5, 1, "cell-lfp-26650"),
            "strip-ni-03x10",
            usual(["board-lfp-5s-20", "fuse-blade-3", "switch-10a-dc", "plug-15a", "none", "charger-lfp-5s-2a"]),
            "wire-awg-18",
        ),
        make(
            "heated gloves, a wire of some ohms, on two cells",
            device("resistive", ("li_ion", 2), (Some(5.0), Some(8.5)), ohms(6.0)),
            ("li_ion", 2, 1, "cell-middle-18650"),
            "strip-ni-015x8",
            usual(["board-li-2s-10", "fuse-blade-3", "switch-10a-dc", "plug-15a", "none", "charger-li-2s-1a"]),
            "wire-awg-18",
        ),
    ]
}

fn all_conversions() -> Vec<Sound> {
    conversions().into_iter().chain(more_conversions()).collect()
}

fn plan_of(sound: &Sound) -> Plan {
    let (chemistry, series, parallel, cell) = sound.pack;
    let choice = |id: &str| if id == "none" { json!({"state": "none"}) } else { demo_part(id) };
    let mut strip = choice(sound.strip);
    if sound.strip != "none" {
        strip["part"]["side_by_side"] = json!(parallel);
    }
    let mut changes: Vec<(&str, Value)> = vec![
        ("device", sound.device.clone()),
        ("packs/0/chemistry", json!(chemistry)),
        ("packs/0/series", json!(series)),
        ("packs/0/parallel", json!(parallel)),
        ("packs/0/cell", choice(cell)),
        ("packs/0/strip", strip),
        ("lead/wire", choice(sound.lead)),
        ("lead/length_mm", json!(250.0)),
    ];
    changes.extend(sound.parts.iter().map(|&(place, id)| (place, choice(id))));
    with(&Plan::blank(sound.name), &changes)
}

#[test]
fn sound_conversions_of_every_kind_have_no_stop_and_only_the_cautions_meant() {
    let mut wrong = vec![];
    let all = all_conversions();
    assert!(all.len() >= 24);
    let mild = json!({"use_min_c": 10.0, "use_max_c": 25.0, "charge_min_c": 10.0, "charge_max_c": 25.0});
    for (sound, climate) in all.iter().flat_map(|sound| [(sound, None), (sound, Some(&mild))]) {
        let plan = plan_of(sound);
        let plan = climate.map_or(plan.clone(), |mild| with(&plan, &[("environment", mild.clone())]));
        let assessment = assess(&plan).unwrap_or_else(|e| panic!("{}: {e:?}", sound.name));
        for f in &assessment.findings {
            let meant = sound.cautions.contains(&f.rule.id());
            if f.severity == Severity::Stop || (f.severity == Severity::Caution && !meant) {
                wrong.push(format!("{}: {:?} {}: {}", sound.name, f.severity, f.key, f.why.text));
            }
        }
        for caution in sound.cautions {
            if !assessment.findings.iter().any(|f| f.rule == *caution) {
                wrong.push(format!("{}: {caution} is missing", sound.name));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn sound_conversions_are_known_to_the_end() {
    for sound in all_conversions() {
        let assessment = assess(&plan_of(&sound)).unwrap();
        for id in ["pack.wh", "run.time_s", "charge.time_s", "path.ohm", "pack.short_a", "run.usable_share"] {
            let figure = assessment.figure(id).unwrap_or_else(|| panic!("{}: no {id}", sound.name));
            assert!(figure.value > 0.0, "{}: {id} is {}", sound.name, figure.value);
        }
        let share = assessment.figure("run.usable_share").unwrap().value;
        assert!((0.5..=1.0).contains(&share), "{}: {share} of the charge is usable", sound.name);
        assert!(assessment.path.weakest.is_some(), "{}: no weakest link", sound.name);
    }
}

/// One page shows a charge reckoned as one cell and one simulated group by group: the second lies in the band of the first.
#[test]
fn the_simulated_charge_ends_within_the_band_of_the_reckoned_one() {
    let mut wrong = vec![];
    let mut compared = 0;
    for sound in all_conversions() {
        let plan = plan_of(&sound);
        let simulated = fills(&plan, &WhatIf::default(), FillsFrom::Empty).unwrap();
        let Some(full_s) = simulated.full_s else { continue };
        let figure = assess(&plan).unwrap().figure("charge.time_s").unwrap().clone();
        compared += 1;
        // The simulation goes in steps.
        let (low_s, high_s) = (figure.low.unwrap() * 0.98, figure.high.unwrap() * 1.02);
        if !(low_s..=high_s).contains(&full_s) {
            let found = full_s / figure.value;
            wrong.push(format!(
                "{}: {found:.3}, band {:.3} to {:.3}",
                sound.name,
                low_s / figure.value,
                high_s / figure.value
            ));
        }
    }
    assert!(compared >= 15, "{compared}");
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
