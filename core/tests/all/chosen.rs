//! Cells of the stock in a plan: what they change about the pack, and what a file of it keeps.

use crate::common;

use brick_core::assess::{Assessment, Severity};
use brick_core::plan::{CellGroup, ChosenCell, differences};
use brick_core::{Plan, assess};
use common::{sound, with};
use serde_json::{Value, json};

/// Four groups of two; every capacity in ampere-hours, all at the same volts.
fn groups(capacities: [[f64; 2]; 4]) -> Value {
    let cell = |g: usize, k: usize, ah: f64| {
        json!({"label": format!("C{g}{k}"), "lot": "pump", "capacity_ah": ah, "resistance_ohm": 0.03, "rested_v": 4.1,
            "stock_id": format!("0190a000-0000-7000-8000-0000000000{g}{k}")})
    };
    let group = |(g, two): (usize, [f64; 2])| json!({"cells": [cell(g, 0, two[0]), cell(g, 1, two[1])]});
    capacities.into_iter().enumerate().map(group).collect()
}

fn planned(capacities: [[f64; 2]; 4]) -> Plan {
    with(&sound(), &[("packs/0/groups", groups(capacities))])
}

fn value(a: &Assessment, id: &str) -> f64 {
    a.figure(id).unwrap_or_else(|| panic!("no figure {id}")).value
}

#[test]
fn the_weakest_group_is_the_capacity_of_the_pack() {
    let plain = assess(&sound()).unwrap();
    let chosen = assess(&planned([[2.4, 2.5], [2.45, 2.45], [2.5, 2.42], [2.46, 2.46]])).unwrap();
    assert_eq!(value(&plain, "pack.ah"), 5.0);
    assert!((value(&chosen, "groups.weakest_ah") - 4.9).abs() < 1e-12);
    assert!((value(&chosen, "pack.ah") - 4.9).abs() < 1e-12);
    assert!((value(&chosen, "groups.spread_share") - 0.02 / 4.91).abs() < 1e-12);
    assert_eq!(value(&chosen, "groups.join_a"), 0.0);
    assert!(value(&chosen, "run.time_s") < value(&plain, "run.time_s"), "less charge, longer run");
    let working = &chosen.figure("pack.ah").unwrap().working;
    assert_eq!(serde_json::to_value(&working.inputs).unwrap()[0]["id"], "groups.weakest_ah");
    // Even groups at equal volts bring nothing that was not there before.
    let keys = |a: &Assessment| a.findings.iter().map(|f| f.key.clone()).collect::<Vec<_>>();
    assert_eq!(keys(&chosen), keys(&plain));
}

#[test]
fn cells_without_a_capacity_leave_the_claim_in_force() {
    let mut plan = planned([[2.4, 2.4]; 4]);
    plan.packs[0].groups[2].cells[1].capacity_ah = None;
    let a = assess(&plan).unwrap();
    assert!(a.figure("groups.weakest_ah").is_none());
    assert_eq!(value(&a, "pack.ah"), 5.0);
}

/// I = dV / (R1 + R2) for a pair: 0.1 V over 60 milliohm is 1.67 A.
#[test]
fn the_current_of_joining_is_that_of_the_group_that_parts_most() {
    let mut plan = planned([[2.5, 2.5]; 4]);
    plan.packs[0].groups[1].cells[0].rested_v = Some(4.06);
    plan.packs[0].groups[3].cells[1].rested_v = Some(4.0);
    let a = assess(&plan).unwrap();
    assert!((value(&a, "groups.join_a") - 0.1 / 0.06).abs() < 1e-9);
    assert!((value(&a, "groups.apart_v") - 0.1).abs() < 1e-9);
    let found = a.findings.iter().find(|f| f.rule == "cells.join-unequal").unwrap();
    assert_eq!(found.severity, Severity::Caution);
    assert!(found.why.text.contains("1.67 A"), "{}", found.why.text);
    // Exactly 50 mV apart may be joined.
    plan.packs[0].groups[1].cells[0].rested_v = Some(4.05);
    plan.packs[0].groups[3].cells[1].rested_v = Some(4.1);
    assert!(!assess(&plan).unwrap().findings.iter().any(|f| f.rule == "cells.join-unequal"));
}

#[test]
fn chosen_cells_that_cannot_stand_name_their_fields() {
    let fields = |change: &dyn Fn(&mut Vec<CellGroup>)| {
        let mut plan = planned([[2.5, 2.5]; 4]);
        change(&mut plan.packs[0].groups);
        plan.check().unwrap_err().into_iter().map(|e| e.field).collect::<Vec<_>>()
    };
    assert_eq!(fields(&|g| g[1].cells[0].label = " ".to_owned()), ["/packs/0/groups/1/cells/0/label"]);
    assert_eq!(fields(&|g| g[1].cells[0].label = "c31".to_owned()), ["/packs/0/groups/3/cells/1/label"]);
    assert_eq!(fields(&|g| g[0].cells[1].capacity_ah = Some(-1.0)), ["/packs/0/groups/0/cells/1/capacity_ah"]);
    assert_eq!(fields(&|g| g[0].cells[1].resistance_ohm = Some(0.0)), ["/packs/0/groups/0/cells/1/resistance_ohm"]);
    assert_eq!(fields(&|g| g[0].cells[1].rested_v = Some(f64::NAN)), ["/packs/0/groups/0/cells/1/rested_v"]);
    let cell = |i: usize| ChosenCell {
        stock_id: None,
        label: format!("X{i}"),
        lot: None,
        capacity_ah: None,
        resistance_ohm: None,
        rested_v: None,
    };
    assert_eq!(fields(&|g| g[0].cells = (0..41).map(cell).collect()), ["/packs/0/groups/0/cells"]);
    assert_eq!(fields(&|g| *g = vec![CellGroup::default(); 25]), ["/packs/0/groups"]);
}

#[test]
fn a_copy_names_its_cells_and_counts_on_none() {
    let plan = planned([[2.5, 2.5]; 4]);
    let again = Plan::from_json(&plan.to_json().unwrap()).unwrap();
    assert_eq!(again, plan);
    assert_eq!(plan.stock_cells().filter(|c| c.stock_id.is_some()).count(), 8);
    let copy = plan.clone().without_reservations();
    assert!(copy.stock_cells().all(|c| c.stock_id.is_none() && c.capacity_ah == Some(2.5)));
    // The history tells that cells were chosen.
    assert!(!differences(&sound(), &plan).is_empty());
}
