//! The bill of materials: nothing missing, nothing twice, what is at hand, what it is weighed against.

use crate::common;

use brick_core::advise::bill::{Bill, bill, csv};
use brick_core::assess::{CountedIn, assess};
use brick_core::{Catalogue, Plan};
use common::jobs::plans;
use common::{sound, with};
use serde_json::{Value, json};

fn demo() -> Catalogue {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/catalogue.json");
    Catalogue::from_json(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn empty() -> Catalogue {
    Catalogue { items: vec![] }
}

fn of(changes: &[(&str, Value)]) -> Bill {
    bill(&with(&sound(), changes), &empty()).unwrap()
}

fn line<'a>(bill: &'a Bill, name: &str) -> &'a brick_core::advise::bill::BillLine {
    bill.lines.iter().find(|l| l.name == name).unwrap_or_else(|| panic!("no {name}"))
}

/// Whatever the job: the total is that of the type plate, every chosen node and run stands there once, counts are whole.
#[test]
fn the_bill_of_every_job_is_whole_and_agrees_with_the_type_plate() {
    // Strips count as they are cut once the brick is laid out.
    let laid = concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/plans/bait-boat.brick.json");
    let laid = Plan::from_json(&std::fs::read_to_string(laid).unwrap()).unwrap();
    for (name, plan) in plans().into_iter().chain([("a brick that is laid out", laid)]) {
        let bill = bill(&plan, &demo()).unwrap();
        let plate = assess(&plan).unwrap().figure("plate.cost").unwrap().value;
        assert!((bill.price - plate).abs() < 1e-9, "{name}: {} against {plate}", bill.price);
        let places: Vec<&str> = bill.lines.iter().flat_map(|l| &l.places).map(String::as_str).collect();
        for node in plan.nodes.iter().filter(|n| n.part.part().is_some()) {
            assert_eq!(places.iter().filter(|p| **p == node.id).count(), 1, "{name}: {}", node.id);
        }
        for line in &bill.lines {
            assert!((line.at_hand + line.to_buy - line.count).abs() < 1e-12 && line.to_buy >= 0.0, "{name}: {line:?}");
        }
    }
}

#[test]
fn the_same_part_at_two_places_is_one_line() {
    let wire = json!({"state": "chosen", "part": {"offer": common::offer("silicone 16 AWG"), "insulation": "silicone",
        "size": {"standard": "awg", "awg": 16}, "bundled": false}});
    let bill = of(&[("runs/7/wire", wire), ("runs/7/length_mm", json!(200.0))]);
    let wire = line(&bill, "silicone 16 AWG");
    // There and back: 2 x 300 mm and 2 x 200 mm.
    assert!((wire.count - 1.0).abs() < 1e-12 && wire.counted_in == CountedIn::Metres);
    assert_eq!(wire.places, ["lead", "charge-lead"]);
    assert_eq!(line(&bill, "power cell").count, 8.0);
}

#[test]
fn what_is_at_hand_is_not_bought() {
    let plan = with(&sound(), &[("fuse/offer/catalogue_id", json!("fuse-blade-15"))]);
    let kept = |at_hand| {
        let mut catalogue = demo();
        let item = catalogue.items.iter_mut().find(|i| i.id == "fuse-blade-15").unwrap();
        (item.at_hand, item.note) = (at_hand, "drawer two".to_owned());
        bill(&plan, &catalogue).unwrap()
    };
    let (without, with_drawer) = (kept(None), kept(Some(5)));
    assert_eq!(line(&without, "blade 15 A").to_buy, 1.0);
    let fuse = line(&with_drawer, "blade 15 A");
    assert_eq!((fuse.at_hand, fuse.to_buy, fuse.note.as_str()), (1.0, 0.0, "drawer two"));
    assert!((with_drawer.price - with_drawer.to_buy_price - 1.0).abs() < 1e-9, "the fuse costs 1");
    assert!(with_drawer.at_hand_share > without.at_hand_share);
    // A part that has not to be waited for lies there.
    let there = with(&plan, &[("switch/offer/arrives_days", json!(0.0))]);
    assert_eq!(line(&bill(&there, &demo()).unwrap(), "rocker").to_buy, 0.0);
}

#[test]
fn cells_that_the_plan_holds_in_the_stock_are_at_hand() {
    let cell = |g: usize, k: usize, held: bool| {
        let id = held.then(|| format!("00000000-0000-0000-0000-0000000000{g}{k}"));
        json!({"label": format!("C{g}{k}"), "capacity_ah": 2.5, "resistance_ohm": 0.03, "rested_v": 4.1, "stock_id": id})
    };
    let groups: Value = (0..4).map(|g| json!({"cells": [cell(g, 0, true), cell(g, 1, g < 2)]})).collect();
    let held = of(&[("packs/0/groups", groups)]);
    let cells = line(&held, "power cell");
    assert_eq!((cells.count, cells.at_hand, cells.to_buy), (8.0, 6.0, 2.0));
}

#[test]
fn it_is_weighed_against_a_bought_one_with_what_is_used_up() {
    let extras = json!([
        {"name": "polyimide tape", "count": 1.0, "price": 4.0},
        {"name": "sleeve", "count": 2.0, "price": 1.5, "at_hand": true},
    ]);
    let plain = of(&[]);
    let weighed = of(&[("buying", json!({"replacement_price": 120.0, "extras": extras}))]);
    assert!((weighed.price - plain.price - 7.0).abs() < 1e-9);
    assert!((weighed.to_buy_price - plain.to_buy_price - 4.0).abs() < 1e-9, "the sleeve lies there");
    assert_eq!(weighed.saved_price, Some(120.0 - weighed.to_buy_price));
    assert_eq!(weighed.arrives_days, Some(3.0));
    assert_eq!(plain.saved_price, None);
}

#[test]
fn the_table_holds_a_line_a_part_and_is_read_back() {
    let bill = of(&[("fuse/offer/name", json!("blade, 15 A \u{201c}slow\u{201d}")), ("fuse/offer/price", Value::Null)]);
    let text = csv(&bill).unwrap();
    let mut reader = ::csv::Reader::from_reader(text.as_bytes());
    let rows: Vec<::csv::StringRecord> = reader.records().map(Result::unwrap).collect();
    assert_eq!(rows.len(), bill.lines.len());
    let fuse = rows.iter().find(|r| r[0].starts_with("blade, 15 A")).unwrap();
    assert_eq!((&fuse[3], &fuse[6]), ("", "1"), "no price is no zero");
    assert_eq!(bill.unpriced, 1);
}

#[test]
fn a_blank_plan_says_what_is_still_open() {
    let bill = bill(&Plan::blank("nothing yet"), &empty()).unwrap();
    assert!(bill.lines.is_empty() && bill.price == 0.0 && bill.at_hand_share == 0.0);
    assert!(bill.open.contains(&"charger".to_owned()));
    let mut plan = sound();
    plan.buying.replacement_price = Some(-1.0);
    let errors = brick_core::advise::bill::bill(&plan, &empty()).unwrap_err();
    assert_eq!(errors[0].field, "/buying/replacement_price");
}
