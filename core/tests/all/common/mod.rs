//! A sound plan to start from: a garden blower on four Li-ion cells, two in parallel.

#![allow(dead_code, reason = "each test file uses its share of these")]

pub mod flaws;
pub mod jobs;

use brick_core::plan::{Change, apply};
use brick_core::{Catalogue, Plan};
use serde_json::{Value, json};

/// Places of a plan, short: `board`, `fuse`, `charger`... become the pointer to the part's figures.
pub fn pointer(short: &str) -> String {
    let nodes = [
        "pack",
        "board",
        "fuse",
        "cutoff",
        "switch",
        "plug",
        "converter",
        "device",
        "alarm",
        "jack",
        "charger",
        "supply",
    ];
    let (head, tail) = short.split_once('/').map_or((short, ""), |(h, t)| (h, t));
    let place = match head {
        "cell" | "strip" => format!("/packs/0/{head}/part"),
        "lead" => "/runs/4".to_owned(),
        _ => match nodes.iter().position(|n| *n == head && head != "device") {
            Some(i) if tail.is_empty() => return format!("/nodes/{i}/part"),
            Some(i) => {
                let kind = match head {
                    "fuse" | "switch" => head,
                    "plug" | "jack" => "connector",
                    _ => "module",
                };
                format!("/nodes/{i}/part/part/{kind}")
            }
            None => return format!("/{short}"),
        },
    };
    if tail.is_empty() { place } else { format!("{place}/{tail}") }
}

/// The plan with changes at short places.
pub fn with(plan: &Plan, changes: &[(&str, Value)]) -> Plan {
    let changes: Vec<Change> = changes.iter().map(|(at, value)| Change::put(pointer(at), value)).collect();
    apply(plan, &changes).unwrap_or_else(|e| panic!("{e}"))
}

/// The demo's catalogue.
pub fn catalogue() -> Catalogue {
    let text = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/catalogue.json")).unwrap();
    Catalogue::from_json(&text).unwrap()
}

/// A part of the demo catalogue as a chosen choice, in the form its place takes.
pub fn demo_part(id: &str) -> Value {
    let text = std::fs::read_to_string(format!("{}/../demo/catalogue.json", env!("CARGO_MANIFEST_DIR"))).unwrap();
    let catalogue: Value = serde_json::from_str(&text).unwrap();
    let items = catalogue["items"].as_array().unwrap();
    let part = &items.iter().find(|i| i["id"] == id).unwrap_or_else(|| panic!("no part {id}"))["part"];
    let kind = part["kind"].as_str().unwrap();
    match kind {
        "cell" | "strip" | "wire" => json!({"state": "chosen", "part": part[kind]}),
        _ => chosen(kind, part[kind].clone()),
    }
}

/// A chosen part at a node.
pub fn chosen(kind: &str, body: Value) -> Value {
    json!({"state": "chosen", "part": {"type": kind, kind: body}})
}

pub fn offer(name: &str) -> Value {
    json!({"name": name, "price": 1.0, "arrives_days": 3.0, "mass_g": 10.0})
}

pub fn known(value: f64) -> Value {
    json!({"value": value, "how": "measured"})
}

pub fn module(name: &str, capabilities: Value) -> Value {
    let mut body = json!({"offer": offer(name)});
    for (key, value) in capabilities.as_object().into_iter().flatten() {
        body[key] = value.clone();
    }
    chosen("module", body)
}

pub fn board(series: u32) -> Value {
    module(
        "balancing board",
        json!({"standby_a": 3e-5, "protects": {
        "series": series, "chemistry": "li_ion", "over_charge_v": 4.28, "over_discharge_v": 3.0, "continuous_a": 30.0,
        "charge_a": 8.0, "trip_a": known(70.0), "trip_delay_s": 0.2, "short_a": 200.0, "bleed_a": 0.3,
        "senses_temperature": true, "wants_waking": false, "path_ohm": 0.003}}),
    )
}

pub fn charger(volts: f64, amps: f64) -> Value {
    module(
        "wall charger",
        json!({"charges": {"kind": "cc_cv", "output_v": known(volts), "output_a": amps,
        "tolerance": 0.005, "own_supply": true}}),
    )
}

pub fn cell() -> Value {
    let mut sold = offer("power cell");
    sold["mass_g"] = json!(45.0);
    json!({"offer": sold, "chemistry": "li_ion", "origin": "new", "tested": true, "rated_ah": 2.5,
        "size": {"shape": "cylindrical", "diameter_mm": 18.4, "length_mm": 65.2}, "dcir_ohm": known(0.018),
        "discharge_a": 20.0, "pulse_a": 35.0, "pulse_s": 5.0, "charge_a": 4.0, "full_v": null, "end_v": null})
}

/// Four Li-ion cells in series, two in parallel, for a device of twelve nickel cells. No finding at all.
pub fn sound() -> Plan {
    let plan = Plan::blank("Garden blower");
    with(
        &plan,
        &[
            (
                "device/original",
                json!({"chemistry": "nickel", "series": 12, "capacity_ah": known(1.7), "charger_fits": false,
            "cells_fit": false, "wire": {"standard": "awg", "awg": 16}}),
            ),
            ("device/kind", json!("motor")),
            ("device/highest_v", known(17.0)),
            ("device/lowest_v", known(9.0)),
            (
                "device/loads",
                json!([
            {"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": known(9.0)}},
            {"id": "start", "name": "start", "draw": {"as": "current", "value_a": known(20.0)}, "duration_s": 0.4}]),
            ),
            ("device/wanted_run_s", json!(1200.0)),
            ("packs/0/chemistry", json!("li_ion")),
            ("packs/0/series", json!(4)),
            ("packs/0/parallel", json!(2)),
            ("packs/0/cell", json!({"state": "chosen", "part": cell()})),
            (
                "packs/0/strip",
                json!({"state": "chosen", "part": {"offer": offer("nickel 0.3 x 10"), "metal": "nickel",
            "width_mm": 10.0, "thickness_mm": 0.3, "layers": 1, "side_by_side": 2, "length_mm": 20.0}}),
            ),
            ("board", board(4)),
            (
                "fuse",
                chosen(
                    "fuse",
                    json!({"offer": offer("blade 15 A"), "style": "blade", "rating_a": 15.0, "dc_v": 32.0,
            "breaking_a": 1000.0}),
                ),
            ),
            (
                "switch",
                chosen(
                    "switch",
                    json!({"offer": offer("rocker"), "continuous_a": 30.0, "dc_v": 48.0,
            "contact_ohm": 0.002}),
                ),
            ),
            (
                "plug",
                chosen(
                    "connector",
                    json!({"offer": offer("keyed plug"), "continuous_a": 30.0, "dc_v": 60.0,
            "keyed": true, "live_pins_bare": false, "contact_ohm": 0.001}),
                ),
            ),
            (
                "jack",
                chosen(
                    "connector",
                    json!({"offer": offer("round jack"), "continuous_a": 5.0, "dc_v": 30.0,
            "keyed": true, "live_pins_bare": false, "contact_ohm": null}),
                ),
            ),
            ("charger", charger(16.8, 2.0)),
            ("supply", json!({"state": "none"})),
            (
                "lead/wire",
                json!({"state": "chosen", "part": {"offer": offer("silicone 16 AWG"), "insulation": "silicone",
            "size": {"standard": "awg", "awg": 16}, "bundled": false}}),
            ),
            ("lead/length_mm", json!(300.0)),
        ],
    )
}
