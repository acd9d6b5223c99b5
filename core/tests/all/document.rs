//! Plans as files: exact round trips, clear refusals, and the first version readable for ever.

use crate::common;

use brick_core::advise::suggest::suggest;
use brick_core::assess::{Severity, Verdict, assess};
use brick_core::plan::{Change, ReadError, VERSION, apply, differences, put};
use brick_core::{Catalogue, Plan, fixes};
use common::{sound, with};
use serde_json::json;

fn demo(name: &str) -> String {
    std::fs::read_to_string(format!("{}/../demo/{name}", env!("CARGO_MANIFEST_DIR"))).unwrap()
}

/// This file is never changed: what the first version wrote must be read by every later one.
#[test]
fn the_first_versions_file_is_read() {
    let plan = Plan::from_json(include_str!("../frozen/first-version.brick.json")).unwrap();
    assert_eq!(plan.name, "Garden blower");
    assert_eq!(assess(&plan).unwrap().figure("pack.full_v").unwrap().value, 16.8);
}

#[test]
fn a_plan_survives_a_round_trip_value_for_value() {
    for plan in [sound(), Plan::blank("Kite reel"), Plan::from_json(&demo("plans/hedge-shears.brick.json")).unwrap()] {
        assert_eq!(Plan::from_json(&plan.to_json().unwrap()).unwrap(), plan);
    }
}

#[test]
fn a_blank_plan_is_open_everywhere_and_has_no_finding() {
    let assessment = assess(&Plan::blank("Kite reel")).unwrap();
    assert!(assessment.findings.is_empty(), "{:?}", assessment.findings);
    assert!(assessment.stages.iter().all(|s| s.verdict == Verdict::NothingYet));
    assert!(!assessment.stages[0].to_find_out.is_empty());
}

/// The browser makes the same changes before it asks: the same cases are held against it there.
#[test]
fn changes_are_put_where_a_place_for_them_is_and_fail_elsewhere() {
    #[derive(serde::Deserialize)]
    struct Case {
        what: String,
        document: serde_json::Value,
        changes: Vec<Change>,
        result: Option<serde_json::Value>,
    }
    let cases: Vec<Case> = serde_json::from_str(include_str!("../changes.json")).unwrap();
    for Case { what, mut document, changes, result } in cases {
        let made = put(&mut document, &changes).map(|()| document);
        assert_eq!(made.ok(), result, "{what}");
    }
}

#[test]
fn what_is_no_plan_is_refused_with_its_place() {
    let text = sound().to_json().unwrap();
    let version = format!("\"version\": {VERSION}");
    let cases = [
        (text.replace("dense-brick/plan", "shopping-list"), "/format"),
        (text.replacen(&version, &format!("\"version\": {}", VERSION + 1), 1), "newer"),
        (text.replacen("\"series\": 4", "\"series\": 99", 1), "/packs/0/series"),
        (text.replacen("\"series\": 4", "\"series\": -4", 1), "line"),
        (text.replacen("\"name\": \"Garden blower\"", "\"nom\": \"Garden blower\"", 1), "nom"),
        (text.replacen("\"to\": \"board\"", "\"to\": \"nowhere\"", 1), "no node “nowhere”"),
        (text[..text.len() / 2].to_owned(), "line"),
        (String::new(), "line 1"),
    ];
    for (text, told) in cases {
        let error = Plan::from_json(&text).expect_err(told).to_string();
        assert!(error.contains(told), "{error} does not tell {told}");
    }
    let newer = text.replacen(&version, &format!("\"version\": {}", VERSION + 1), 1);
    assert!(matches!(Plan::from_json(&newer), Err(ReadError::Newer { .. })));
}

#[test]
fn all_faults_are_told_at_once() {
    let plan = with(
        &sound(),
        &[("packs/0/series", json!(25)), ("cell/rated_ah", json!(0.0)), ("environment/use_min_c", json!(80.0))],
    );
    let fields: Vec<String> = plan.check().unwrap_err().into_iter().map(|e| e.field).collect();
    for field in ["/packs/0/series", "/packs/0/cell/part/rated_ah", "/environment/use_min_c"] {
        assert!(fields.iter().any(|f| f == field), "{field} is missing among {fields:?}");
    }
}

#[test]
fn the_largest_plan_is_allowed_and_one_cell_more_is_not() {
    let largest = with(&sound(), &[("packs/0/series", json!(10)), ("packs/0/parallel", json!(40))]);
    assert!(largest.check().is_ok());
    let over = with(&sound(), &[("packs/0/series", json!(11)), ("packs/0/parallel", json!(40))]);
    assert!(over.check().unwrap_err()[0].message.contains("400"));
}

#[test]
fn the_demo_has_a_sound_plan_and_one_with_stops() {
    let stops = |name: &str| {
        let plan = Plan::from_json(&demo(name)).unwrap();
        assess(&plan).unwrap().findings.iter().filter(|f| f.severity == Severity::Stop).count()
    };
    assert_eq!(stops("plans/bait-boat.brick.json"), 0);
    assert_eq!(stops("plans/hedge-shears.brick.json"), 4);
}

#[test]
fn the_best_part_of_every_place_of_the_demo_brings_no_stop() {
    let catalogue = Catalogue::from_json(&demo("catalogue.json")).unwrap();
    let plan = Plan::from_json(&demo("plans/bait-boat.brick.json")).unwrap();
    for place in ["cell", "strip", "board", "fuse", "switch", "plug", "jack", "charger", "lead"] {
        let found = suggest(&plan, &catalogue, place).unwrap();
        assert!(found.len() >= 2, "{place} has {} parts", found.len());
        assert_ne!(found[0].worst, Some(Severity::Stop), "{place}: {:?}", found[0]);
        assert!(found.iter().all(|s| s.worst.is_none() || !s.reasons.is_empty()), "{place}: a misfit without reason");
    }
    let boards = suggest(&plan, &catalogue, "board").unwrap();
    let wrong = boards.iter().find(|s| s.offer.name.contains("3 series Li-ion")).unwrap();
    assert!(wrong.reasons.iter().any(|r| r.text.contains("another series count")), "{:?}", wrong.reasons);
    assert!(suggest(&plan, &catalogue, "kitchen").is_err());
}

#[test]
fn what_changed_between_two_revisions_is_told_in_words() {
    let told = |changes: &[(&str, serde_json::Value)]| -> Vec<String> {
        let said = |v: Option<String>| v.unwrap_or_else(|| "nothing".to_owned());
        differences(&sound(), &with(&sound(), changes))
            .into_iter()
            .map(|d| format!("{}: {} -> {}", d.what, said(d.before), said(d.after)))
            .collect()
    };
    assert!(told(&[]).is_empty());
    assert_eq!(told(&[("fuse/rating_a", json!(20.0))]), ["fuse, rating: 15 A -> 20 A"]);
    assert_eq!(told(&[("packs/0/parallel", json!(3))]), ["parallel: 2 -> 3"]);
    assert_eq!(told(&[("fuse", json!({"state": "none"}))]), ["fuse: blade 15 A -> none"]);
    assert_eq!(told(&[("device/highest_v", json!(null))]), ["device, highest: 17 V measured -> nothing"]);
    assert_eq!(told(&[("device/original/wire/awg", json!(14))]), ["device, original, wire: 16 AWG -> 14 AWG"]);
    assert_eq!(
        told(&[("device/loads/1/draw/value_a/value", json!(25.0)), ("device/loads/1/duration_s", json!(0.2))]),
        ["device, start, draw: 20 A measured -> 25 A measured", "device, start, duration: 0.4 s -> 0.2 s"]
    );
    // Another part is one difference, not one for each of its figures.
    assert_eq!(told(&[("charger", common::charger(16.8, 4.0))]), ["charger, charge current: 2 A -> 4 A"]);
    let accepted = json!([{"finding": "wiring.drop", "reason": "seldom used"}]);
    assert_eq!(told(&[("accepted", accepted)]), ["accepted, wiring.drop: nothing -> seldom used"]);
}

/// A change that lies within a piece of the plan reads only that piece again: what comes out is what reading the whole plan gives, for every
/// change that the flaws of these tests and their fixes make, and so is what is refused.
#[test]
fn pieces_read_by_themselves_are_the_whole_plan_read_again() {
    let as_a_whole = |plan: &Plan, changes: &[Change]| -> Option<Plan> {
        let mut document = serde_json::to_value(plan).unwrap();
        put(&mut document, changes).ok()?;
        serde_json::from_value(document).ok()
    };
    let same = |plan: &Plan, changes: &[Change]| {
        assert_eq!(apply(plan, changes).ok(), as_a_whole(plan, changes), "{changes:?}");
    };
    let catalogue = common::catalogue();
    let mut tried = 0;
    for flaw in common::flaws::flaws() {
        let plan = with(&sound(), &flaw.given);
        for (at, value) in common::flaws::changes_of(&flaw) {
            same(&plan, &[Change::put(common::pointer(at), value)]);
        }
        let flawed = with(&plan, &common::flaws::changes_of(&flaw));
        for fix in fixes(&flawed, &catalogue, flaw.brings).unwrap() {
            same(&flawed, &fix.changes);
            tried += 1;
        }
    }
    assert!(tried > 150, "{tried}");

    let plan = sound();
    let tool = json!({"state": "none"});
    for changes in [
        // Between the two it is no part.
        vec![Change::put("/nodes/1/part/state", "none"), Change::put("/nodes/1/part", &tool)],
        vec![
            Change::put("/nodes/1/part", &tool),
            Change::put("/nodes/1/sits", "outside"),
            Change::put("/runs/0/length_mm", 90.0),
        ],
        vec![Change::put("/nodes/1/part", &tool), Change::put("/name", "Kite reel")],
        vec![Change::put("/nodes", json!([])), Change::put("/nodes/0/part", &tool)],
        vec![Change::put("/nodes/99/part", &tool)],
        vec![Change::put("/nodes/01/part", &tool)],
        vec![Change::put("/nodes/1/no_such/part", &tool)],
        vec![Change::put("/nodes/1/no_such", &tool)],
        vec![Change::put("/packs/0/series", -4)],
        vec![Change::put("/feed/outside", "plug"), Change::put("/packs/0/parallel", 3)],
        vec![Change::put("/feed/second", json!({"series": 2, "used_in_series": true}))],
    ] {
        same(&plan, &changes);
    }
}
