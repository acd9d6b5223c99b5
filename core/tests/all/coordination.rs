//! Who acts first: the verdicts on plans whose answer is known, and what must hold on any chart.

use crate::common;

use brick_core::assess::{Coordination, CurveKind, FaultCase, Severity, coordination};
use common::{chosen, known, offer, sound, with};
use serde_json::{Value, json};

fn case<'c>(chart: &'c Coordination, name: &str) -> &'c FaultCase {
    chart.cases.iter().find(|c| c.name == name).unwrap_or_else(|| panic!("no {name}"))
}

fn none() -> Value {
    json!({"state": "none"})
}

fn blade(rating_a: f64) -> Value {
    chosen(
        "fuse",
        json!({"offer": offer("blade"), "style": "blade", "rating_a": rating_a, "dc_v": 32.0, "breaking_a": 1000.0}),
    )
}

/// A 15 A blade and a board that trips at 70 A after 0.2 s, before strips, wire and plug that bear the fuse.
#[test]
fn in_a_sound_plan_a_short_ends_before_anything_is_harmed() {
    let chart = coordination(&sound()).unwrap();
    assert_eq!(chart.missing, None);
    let short = case(&chart, "dead short");
    assert_eq!((short.verdict, short.first.as_deref()), (None, Some("board")), "{}", short.words);
    assert!(short.harmed.is_empty() && short.within_s.unwrap() <= 0.001, "{}", short.words);
    // 1.5 x 9 A: under what a 15 A blade must open at, and borne by everything.
    let overload = case(&chart, "overload");
    assert_eq!((overload.current_a, overload.verdict, &overload.first), (13.5, None, &None), "{}", overload.words);
    assert!(overload.words.contains("everything is rated for that current continuously"), "{}", overload.words);
}

#[test]
fn without_fuse_and_board_a_short_harms_what_is_thinnest() {
    let chart = coordination(&with(&sound(), &[("fuse", none()), ("board", none())])).unwrap();
    let short = case(&chart, "dead short");
    assert_eq!((short.verdict, &short.first), (Some(Severity::Stop), &None));
    assert!(short.words.contains("nothing opens") && !short.harmed.is_empty(), "{}", short.words);
}

/// 16.8 V over 36 milliohm of cells, 2.2 of strips, and a lead of some milliohm: a few hundred amperes, less with a
/// longer lead before the fuse.
#[test]
fn the_short_at_the_fuse_is_less_than_that_at_the_pack() {
    let near = coordination(&sound()).unwrap().short_a.unwrap();
    let pack = brick_core::assess(&sound()).unwrap().figure("pack.short_a").unwrap().value;
    assert!(near < pack && near > 0.3 * pack, "{near} of {pack}");
    let without = coordination(&with(&sound(), &[("fuse", none())])).unwrap().short_a.unwrap();
    assert!((without / pack - 1.0).abs() < 1e-9, "{without} and {pack}");
}

/// A stall of 34 A on a wire for 8 A, behind a 30 A blade that may hold it for long: the wire is the fuse.
#[test]
fn a_fuse_too_large_for_its_wire_is_told_by_the_stall() {
    let thin = json!({"standard": "awg", "awg": 20});
    let changes = [
        ("device/loads/1/draw/value_a", known(34.0)),
        ("board", none()),
        ("fuse", blade(30.0)),
        ("lead/wire/part/size", thin),
    ];
    let chart = coordination(&with(&sound(), &changes)).unwrap();
    let stall = case(&chart, "stall that does not end");
    assert_eq!(stall.verdict, Some(Severity::Stop), "{}", stall.words);
    assert!(stall.harmed.iter().any(|h| h == "20 AWG wire"), "{:?}", stall.harmed);
}

/// A 20 A start of 0.4 s through a 7.5 A blade: at 267 % it may open in 0.08 s, and must within 1.8 s.
#[test]
fn a_fuse_that_may_open_in_an_ordinary_start_is_a_caution() {
    let changes = [("fuse", blade(7.5)), ("device/loads/0/draw/value_a", known(5.0))];
    let chart = coordination(&with(&sound(), &changes)).unwrap();
    let stall = case(&chart, "stall that does not end");
    assert_eq!(
        (stall.verdict, stall.first.as_deref()),
        (Some(Severity::Caution), Some("7.5 A fuse")),
        "{}",
        stall.words
    );
    assert!(stall.words.contains("normal start"), "{}", stall.words);
}

#[test]
fn curves_fall_and_begin_where_they_hold_for_good() {
    let chart = coordination(&sound()).unwrap();
    assert!(chart.curves.len() >= 6, "{:?}", chart.curves.iter().map(|c| &c.label).collect::<Vec<_>>());
    for curve in &chart.curves {
        for pair in curve.points.windows(2) {
            assert!(pair[0].current_a < pair[1].current_a && pair[0].least_s >= pair[1].least_s, "{}", curve.label);
        }
        for point in &curve.points {
            assert!(
                point.current_a >= curve.holds_a && point.current_a <= chart.current_to_a * 1.0001,
                "{}",
                curve.label
            );
            assert!(point.most_s.is_none_or(|s| s >= point.least_s), "{}", curve.label);
        }
    }
    let kinds = |kind| chart.curves.iter().filter(|c| c.kind == kind).count();
    assert_eq!(kinds(CurveKind::Acts), 2);
}

/// Behind a converter the currents are others: its far side is not on the chart.
#[test]
fn the_chart_ends_before_a_converter() {
    let converter = common::module(
        "converter",
        json!({"converts": {"topology": "buck", "output_v": 9.0, "wired_in": false, "efficiency": 0.9}}),
    );
    // The wire behind it is the same as the lead before it.
    let mut plan = sound();
    let wire = plan.connections[4].wire.clone();
    plan.connections[6].wire = wire;
    let behind = plan.connections[6].id.clone();
    let has = |plan: &brick_core::Plan, id: &str| coordination(plan).unwrap().curves.iter().any(|c| c.id == id);
    assert!(has(&plan, &behind) && has(&plan, "cells"));
    let converted = with(&plan, &[("converter", converter)]);
    assert!(!has(&converted, &behind) && has(&converted, "cells") && has(&converted, &plan.connections[4].id));
}

#[test]
fn a_plan_without_a_load_says_what_is_missing() {
    let chart = coordination(&with(&sound(), &[("device/loads", json!([]))])).unwrap();
    assert!(chart.missing.unwrap().contains("draws") && chart.cases.is_empty());
}
