//! Holes in the walls: what lies behind them, by hand; what goes through; what is seen from outside.

use crate::common;

use brick_core::Plan;
use brick_core::assess::assess;
use brick_core::physics::brick::{Laid, along_wall, behind, free_mm, too_deep_mm, too_thick_mm};
use brick_core::plan::{Axis, Compartment, Obstruction, Opening, OpeningPurpose, Sign, Space, Wall};
use common::sound;
use serde_json::json;

fn hole(wall: Wall, along_mm: f64, up_mm: f64) -> Opening {
    Opening {
        purpose: OpeningPurpose::Jack,
        hole_mm: 8.0,
        behind_mm: None,
        wall_mm: None,
        pad_mm: None,
        thread_mm: None,
        part_mm: None,
        body_mm: None,
        wall: Some(wall),
        along_mm: Some(along_mm),
        up_mm: Some(up_mm),
        shows: vec![],
        insulated: None,
        lamp: None,
    }
}

fn bay() -> Compartment {
    Compartment {
        id: "bay".into(),
        name: "bay".into(),
        space: Space::Box { length_mm: 120.0, width_mm: 60.0, depth_mm: 90.0 },
        obstructions: vec![Obstruction {
            name: "post".into(),
            length_mm: 10.0,
            width_mm: 10.0,
            depth_mm: 90.0,
            x_mm: 100.0,
            y_mm: 50.0,
            z_mm: 0.0,
            cut: false,
        }],
        openings: vec![],
        metal: None,
    }
}

/// Four bars of two upright cells that begin at 20, 10, 5.
fn laid_out() -> Plan {
    let mut plan = sound();
    plan.device.compartments = vec![bay()];
    let seat = |g: u32, row: u32| json!({"column": g, "row": row, "layer": 0, "plus_up": g.is_multiple_of(2)});
    let cells: Vec<_> = (0..4).flat_map(|g| [seat(g, 0), seat(g, 1)]).collect();
    plan.packs[0].brick = serde_json::from_value(json!({
        "clearances": {"board_elsewhere": true},
        "layout": {"lattice": "square", "axis": "z", "columns_along": "x", "columns": 4, "rows": 2, "layers": 1,
            "at_mm": [20.0, 10.0, 5.0], "board_on": null, "wires_on": "x_high", "cells": cells},
    }))
    .unwrap();
    plan
}

fn met(plan: &Plan, opening: &Opening) -> Vec<(String, f64)> {
    let laid = Laid::of(plan).unwrap();
    let placed = laid.placed();
    let found = behind(opening, &plan.device.compartments[0], Some((&placed, laid.layout, laid.parallel)));
    found.into_iter().map(|b| (b.what, b.depth_mm)).collect()
}

fn close(found: f64, wanted: f64) {
    assert!((found - wanted).abs() < 1e-6, "{found} against {wanted}");
}

/// By hand: cells are 18.4 across and 18.9 apart, wrap and foam 1.5. Through the near end at the height of the first row the
/// cells begin at 20 - 1.5, and then every 18.9 mm.
#[test]
fn what_lies_behind_a_hole_in_the_end_wall_is_told_in_order() {
    let plan = laid_out();
    let found = met(&plan, &hole(Wall::XLow, 19.0, 40.0));
    let names: Vec<&str> = found.iter().map(|(what, _)| what.as_str()).collect();
    assert_eq!(names, ["cell 1a", "cell 2a", "cell 3a", "cell 4a"]);
    for (k, (_, depth_mm)) in found.iter().enumerate() {
        close(*depth_mm, 18.5 + 18.9 * k as f64);
    }
    // From the far end: 120 - (20 + 3 x 18.9 + 18.4) - 1.5 = 23.4.
    let far = met(&plan, &hole(Wall::XHigh, 19.0, 40.0));
    assert_eq!(far[0].0, "cell 4a");
    close(far[0].1, 23.4);
}

/// By hand: the lid is 90 up, the cells reach 5 + 1 + 65.2 + 1 = 72.2 with their strips: 17.8 less 1.5 of skin.
#[test]
fn through_the_lid_the_strips_come_first() {
    let plan = laid_out();
    let found = met(&plan, &hole(Wall::ZHigh, 29.0, 19.0));
    assert_eq!(found.len(), 1);
    close(found[0].1, 16.3);
    close(met(&plan, &hole(Wall::ZLow, 29.0, 19.0))[0].1, 3.5);
}

#[test]
fn what_stands_in_the_way_is_met_and_a_hole_beside_everything_meets_nothing() {
    let plan = laid_out();
    let post = met(&plan, &hole(Wall::YHigh, 105.0, 40.0));
    assert_eq!(post, [("post".to_owned(), 0.0)]);
    assert!(met(&plan, &hole(Wall::YHigh, 8.0, 40.0)).is_empty());
    // 4 mm of hole reach from 6.1 to the skin of nothing, a body of 40 mm reaches the first bar.
    let wide = Opening { body_mm: Some(40.0), ..hole(Wall::YHigh, 8.0, 40.0) };
    assert!(met(&plan, &wide).iter().any(|(what, _)| what == "cell 1b"));
    let nowhere = Opening { wall: None, ..hole(Wall::YHigh, 8.0, 40.0) };
    assert!(met(&plan, &nowhere).is_empty());
}

#[test]
fn the_least_of_what_is_free_counts() {
    let (plan, place) = (laid_out(), bay());
    let laid = Laid::of(&plan).unwrap();
    let placed = laid.placed();
    let free = |opening: &Opening| {
        let met = behind(opening, &place, Some((&placed, laid.layout, laid.parallel)));
        free_mm(opening, &place, &met)
    };
    close(free(&hole(Wall::XLow, 19.0, 40.0)).unwrap(), 18.5);
    close(free(&Opening { behind_mm: Some(12.0), ..hole(Wall::XLow, 19.0, 40.0) }).unwrap(), 12.0);
    // Nothing behind it: the far wall.
    close(free(&hole(Wall::YHigh, 8.0, 40.0)).unwrap(), 60.0);
    assert_eq!(free(&Opening { wall: None, ..hole(Wall::XLow, 19.0, 40.0) }), None);
    let part = |part_mm: f64| Opening { part_mm: Some(part_mm), ..hole(Wall::XLow, 19.0, 40.0) };
    assert_eq!(too_deep_mm(&part(18.5), Some(18.5)), None);
    close(too_deep_mm(&part(20.0), Some(18.5)).unwrap(), 1.5);
    assert_eq!(too_deep_mm(&part(20.0), None), None);
}

#[test]
fn wall_and_pad_together_must_not_be_thicker_than_the_thread_takes() {
    let bush = |wall_mm, pad_mm, thread_mm| Opening { wall_mm, pad_mm, thread_mm, ..hole(Wall::XLow, 1.0, 1.0) };
    assert_eq!(too_thick_mm(&bush(Some(3.0), Some(2.0), Some(5.0))), None);
    close(too_thick_mm(&bush(Some(3.0), Some(2.5), Some(5.0))).unwrap(), 0.5);
    assert_eq!(too_thick_mm(&bush(None, Some(2.5), Some(5.0))), None);
    assert_eq!(too_thick_mm(&bush(Some(9.0), None, None)), None);
}

#[test]
fn each_wall_is_measured_along_its_own_two_directions() {
    assert_eq!(along_wall(Wall::XLow), [Axis::Y, Axis::Z]);
    assert_eq!(along_wall(Wall::YHigh), [Axis::X, Axis::Z]);
    assert_eq!(along_wall(Wall::ZHigh), [Axis::X, Axis::Y]);
}

/// A hole whose part does not fit is a stop, one that does is none; the note to drill with the brick out stays.
#[test]
fn a_part_that_fits_behind_its_hole_brings_no_stop() {
    let mut plan = laid_out();
    let keys = |plan: &Plan| -> Vec<String> { assess(plan).unwrap().findings.into_iter().map(|f| f.key).collect() };
    plan.device.compartments[0].openings = vec![Opening { part_mm: Some(18.0), ..hole(Wall::XLow, 19.0, 40.0) }];
    assert!(!keys(&plan).iter().any(|k| k.starts_with("brick.opening")), "{:?}", keys(&plan));
    plan.device.compartments[0].openings[0].part_mm = Some(19.0);
    assert!(keys(&plan).contains(&"brick.opening-blocked@bay-0".to_owned()));
    plan.device.compartments[0].openings = vec![Opening { shows: vec![Sign::On], ..hole(Wall::ZLow, 29.0, 19.0) }];
    assert!(keys(&plan).contains(&"brick.drill-hits@bay-0".to_owned()));
}
