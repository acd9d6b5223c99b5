//! Flaws of the brick as it is laid, and of what goes through the walls.

use brick_core::assess::Severity::{Caution, Note, Stop};
use serde_json::{Value, json};

use super::super::module;
use super::{Flaw, flaw};

/// Four bars of two upright cells, every other one turned over.
fn seats() -> Vec<Value> {
    let seat = |g: u32, row: u32| json!({"column": g, "row": row, "layer": 0, "plus_up": g.is_multiple_of(2)});
    (0..4).flat_map(|g| [seat(g, 0), seat(g, 1)]).collect()
}

fn layout(cells: &[Value]) -> Value {
    json!({"lattice": "square", "axis": "z", "columns_along": "x", "columns": 4, "rows": 2, "layers": 1,
        "at_mm": [5.0, 5.0, 5.0], "board_on": null, "wires_on": "x_high", "cells": cells})
}

fn brick(cells: &[Value]) -> Value {
    json!({"clearances": {"board_elsewhere": true}, "take_off": null, "joined_by": null, "layout": layout(cells)})
}

fn bay(depth_mm: f64, openings: &Value) -> Value {
    json!([{"id": "bay", "name": "bay", "space": {"shape": "box", "length_mm": 200.0, "width_mm": 60.0, "depth_mm": depth_mm},
        "openings": openings}])
}

/// The sound plan laid out in a roomy bay.
pub fn laid() -> Vec<(&'static str, Value)> {
    vec![("device/compartments", bay(90.0, &json!([]))), ("packs/0/brick", brick(&seats()))]
}

fn with_hole(hole: &Value) -> Vec<(&'static str, Value)> {
    vec![("device/compartments", bay(90.0, &json!([hole])))]
}

fn pouch() -> Value {
    json!({"shape": "pouch", "thickness_mm": 9.0, "width_mm": 34.0, "length_mm": 70.0})
}

pub fn flaws() -> Vec<Flaw> {
    let turned = |which: &[usize]| {
        let mut cells = seats();
        for &k in which {
            cells[k]["plus_up"] = json!(!cells[k]["plus_up"].as_bool().unwrap());
        }
        cells
    };
    let exchanged = {
        let mut cells = seats();
        let (a, b) = (cells[0].clone(), cells[7].clone());
        for name in ["column", "row"] {
            cells[0][name] = b[name].clone();
            cells[7][name] = a[name].clone();
        }
        cells
    };
    vec![
        flaw("bay less deep than the cells are long", vec![("device/compartments", bay(60.0, &json!([])))], Stop, "brick.does-not-fit")
            .given(laid()),
        flaw("switch longer than the room beside the brick", vec![("nodes/4/size", json!({"length_mm": 150.0, "width_mm": 30.0, "height_mm": 25.0}))], Caution, "brick.thing-unplaced@switch")
            .given(laid()),
        flaw("post where cells sit", vec![("device/compartments/0/obstructions", json!([{"name": "post", "length_mm": 9.0, "width_mm": 9.0, "depth_mm": 90.0, "x_mm": 20.0, "y_mm": 20.0}]))], Stop, "brick.does-not-fit")
            .given(laid()),
        flaw("bay smaller than the cells alone", vec![("device/compartments", json!([{"id": "bay", "name": "bay", "space": {"shape": "box", "length_mm": 75.0, "width_mm": 42.0, "depth_mm": 45.0}}]))], Stop, "brick.too-many-cells")
            .given(vec![("device/loads/0/draw/value_a", super::known(4.0)), ("fuse/rating_a", json!(7.5))]),
        flaw("layout of six cells", vec![("packs/0/brick", brick(&seats()[..6]))], Stop, "brick.layout-for-other-counts")
            .given(laid()),
        flaw("one cell of a pair turned over", vec![("packs/0/brick", brick(&turned(&[3])))], Stop, "brick.short@group-2")
            .given(laid())
            .along(&["brick.strips-near@b1-b2"]),
        flaw("two cells of far groups exchanged", vec![("packs/0/brick", brick(&exchanged))], Stop, "brick.group-apart@group-1")
            .given(laid())
            .along(&["brick.group-apart@group-4", "protection.fuse-above-strips"]),
        flaw("a whole group turned over", vec![("packs/0/brick", brick(&turned(&[2, 3])))], Stop, "brick.other-face@group-1")
            .given(laid())
            .along(&["brick.other-face@group-2"]),
        flaw("strips as wide as the cells", vec![("strip/width_mm", json!(18.0))], Stop, "brick.strips-near@b1-b3")
            .given(laid())
            .along(&["brick.strips-near@b0-b2", "brick.strips-near@b2-b4"]),
        flaw("cells in their sleeves only", vec![("packs/0/brick/clearances/gap_mm", json!(0.0))], Stop, "brick.neighbours-bare")
            .given(laid()),
        flaw("board without a place", vec![("packs/0/brick/clearances/board_elsewhere", json!(false))], Caution, "brick.no-room-for-board")
            .given(laid()),
        flaw("pouches without room to swell", vec![("packs/0/brick/clearances/swelling_share", json!(0.02))], Caution, "brick.no-room-for-swelling")
            .given(vec![("cell/size", pouch())]),
        flaw("bare pouches in a device that is dropped", vec![("device/surroundings/shocks", json!(true))], Caution, "brick.pouch-without-shell")
            .given(vec![("cell/size", pouch())]).along(&["device.knocks-unheld"]),
        flaw("a cell longer than the only bay", vec![("device/compartments", json!([{"id": "bay", "name": "bay",
            "space": {"shape": "box", "length_mm": 60.0, "width_mm": 60.0, "depth_mm": 60.0}}]))], Stop, "brick.cell-too-large"),
        flaw("jack deeper than what is free behind it", with_hole(&json!({"purpose": "jack", "hole_mm": 8.0, "behind_mm": 10.0, "part_mm": 14.0})), Stop, "brick.opening-blocked@bay-0")
            .given(laid()),
        flaw("hole over a cell", with_hole(&json!({"purpose": "lamp", "hole_mm": 5.0, "wall": "y_low", "along_mm": 30.0, "up_mm": 40.0})), Note, "brick.drill-hits@bay-0")
            .given(laid()),
        flaw("thread shorter than wall and pad", with_hole(&json!({"purpose": "switch", "hole_mm": 12.0, "wall_mm": 4.0, "pad_mm": 2.0, "thread_mm": 5.0})), Caution, "brick.wall-too-thick@bay-0")
            .given(laid()),
        flaw("lamps of the charge module inside", vec![("charger", module("charge-and-protect module", json!({
            "charges": {"kind": "cc_cv", "output_v": super::known(16.8), "output_a": 2.0, "tolerance": 0.005, "own_supply": true},
            "protects": {"series": 4, "chemistry": "li_ion", "over_charge_v": 4.28, "over_discharge_v": 3.0, "continuous_a": 30.0,
                "charge_a": 8.0, "trip_a": super::known(70.0), "trip_delay_s": 0.2, "short_a": 200.0, "bleed_a": 0.3,
                "senses_temperature": true, "wants_waking": false, "path_ohm": 0.003}})))], Caution, "brick.sign-unseen")
            .given(laid()),
    ]
}
