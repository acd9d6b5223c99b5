//! Choosing what guards a pack: merits shown, arrival tests, what more current would take, and every kind of job.

use crate::common;

use brick_core::advise::fix::{board_places, raise};
use brick_core::assess::{Severity, arrival_tests, assess};
use brick_core::physics::arrival::Outcome;
use brick_core::plan::apply;
use brick_core::{Catalogue, suggest};
use common::{catalogue, sound, with};
use serde_json::{Value, json};

fn remade() -> Value {
    let mut board = common::board(4);
    let protects = &mut board["part"]["module"]["protects"];
    protects["trip_a"] = Value::Null;
    protects["continuous_a"] = json!(10.0);
    protects["detect_v"] = json!(0.15);
    protects["transistor_ohm"] = json!(0.024);
    protects["pairs"] = json!(5);
    board
}

/// 0.15 V over five pairs of 24 milliohm: 15.6 A cold, 10 to 12 A warm; a start of 20 A wants ten pairs:
/// 20 x 2 x 0.024 x 1.5 / 0.12 = 12.
#[test]
fn a_board_of_known_transistors_has_its_trip_reckoned_and_says_how_many_more_a_start_wants() {
    let assessment = assess(&with(&sound(), &[("board", remade())])).unwrap();
    let figure = |id: &str| assessment.figure(id).unwrap_or_else(|| panic!("no {id}"));
    assert!((figure("board.trip_cold_a").value - 15.625).abs() < 1e-9);
    let trip = figure("board.trip_a");
    assert!((trip.low.unwrap() - 8.333).abs() < 1e-3 && (trip.high.unwrap() - 18.75).abs() < 1e-9);
    assert_eq!(figure("board.pairs_needed").value, 12.0);
    assert!(assessment.findings.iter().any(|f| f.rule == "protection.trip-in-peak"), "20 A reach into 8 to 19 A");
    let enough = with(&sound(), &[("board", remade()), ("board/protects/pairs", json!(12))]);
    assert!(assess(&enough).unwrap().findings.iter().all(|f| f.rule != "protection.trip-in-peak"));
}

#[test]
fn a_board_is_suggested_with_its_merits_and_what_is_not_stated() {
    let open = with(&sound(), &[("board", json!({"state": "open"}))]);
    let found = suggest(&open, &catalogue(), "board").unwrap();
    let best = &found[0];
    assert!(best.worst <= Some(Severity::Note), "{:?}", best.reasons);
    let merits: Vec<&str> = best.merits.iter().map(|m| m.text.as_str()).collect();
    assert!(
        merits.iter().any(|m| m.starts_with("carries 10 A of 9 A") || m.starts_with("carries 30 A of 9 A")),
        "{merits:?}"
    );
    assert!(merits.iter().any(|m| m.starts_with("trips around")), "{merits:?}");
    assert!(merits.iter().any(|m| m.contains("from cut-off to cell damage")), "{merits:?}");
    let gappy = found.iter().find(|s| s.catalogue_id == "board-li-4s-fets").unwrap();
    assert!(gappy.merits.iter().any(|m| m.text == "not stated: bleed"), "{:?}", gappy.merits);
    let fuses = suggest(&with(&sound(), &[("fuse", json!({"state": "open"}))]), &catalogue(), "fuse").unwrap();
    let merits: Vec<&str> = fuses[0].merits.iter().map(|m| m.text.as_str()).collect();
    assert!(merits.iter().any(|m| m.starts_with("carries") && m.ends_with("continuously")), "{merits:?}");
    assert!(merits.iter().any(|m| m.starts_with("breaks 1000 A")), "{merits:?}");
}

#[test]
fn what_lies_at_hand_comes_before_what_must_be_bought() {
    let mut catalogue = catalogue();
    let open = with(&sound(), &[("plug", json!({"state": "open"}))]);
    let found = suggest(&open, &catalogue, "plug").unwrap();
    let alike = |s: &&brick_core::advise::suggest::Suggestion| {
        s.worst == found[0].worst && s.reasons.len() == found[0].reasons.len()
    };
    let second = found[1..].iter().find(alike).unwrap().catalogue_id.clone();
    catalogue.items.iter_mut().find(|i| i.id == second).unwrap().at_hand = Some(3);
    assert_eq!(suggest(&open, &catalogue, "plug").unwrap()[0].catalogue_id, second);
}

/// Warm air takes 0.2 % a kelvin of a blade (makers' curves, from memory): at 60 °C a 15 A blade carries 10.5 A.
#[test]
fn a_fuse_carries_less_in_a_warm_case() {
    let warm = with(&sound(), &[("environment/use_max_c", json!(60.0))]);
    let carries_a = assess(&warm).unwrap().figure("fuse.carries_a").unwrap().value;
    assert!((carries_a - 0.75 * 15.0 * 0.93).abs() < 1e-9, "{carries_a}");
}

/// The converter behind the board is off once the board has cut off: only the board's own drain is left.
#[test]
fn after_a_cut_off_only_what_sits_before_it_drains_the_pack() {
    let mut converter = common::module(
        "converter",
        json!({"converts": {"topology": "buck", "output_v": 9.0, "wired_in": false, "efficiency": 0.9}}),
    );
    converter["part"]["module"]["standby_a"] = json!(0.006);
    let plan = with(&sound(), &[("converter", converter), ("switch", json!({"state": "none"}))]);
    let assessment = assess(&plan).unwrap();
    let value = |id: &str| assessment.figure(id).unwrap().value;
    assert!((value("pack.standby_a") - 0.006_03).abs() < 1e-9);
    assert!((value("pack.after_cutoff_a") - 0.000_03).abs() < 1e-9);
    // What lies between 3.0 V and the floor on the curve, of 5 Ah, over 30 microampere.
    let share = value("pack.reserve_share");
    assert!((0.02..0.08).contains(&share), "{share}");
    assert!((value("pack.reserve_days") - 5.0 * share / 0.000_03 / 24.0).abs() < 1e-6);
}

#[test]
fn arrival_tests_say_what_to_read_judge_it_and_offer_to_count_on_it() {
    let tests = |plan| arrival_tests(plan).unwrap();
    let board = |plan| tests(plan).into_iter().find(|p| p.place == "board").unwrap();
    let trip = |plan| board(plan).tests.into_iter().find(|t| t.test.id == "trip").unwrap();
    let plan = sound();
    let places: Vec<_> = tests(&plan).into_iter().map(|p| p.place).collect();
    assert_eq!(places, ["board", "fuse", "switch", "charger"]);
    assert_eq!(trip(&plan).outcome, Outcome::Open);
    let read = |value: f64| {
        let reading = json!({"value": value, "how": "measured", "error": 1.0, "meter": null});
        with(
            &plan,
            &[("arrivals", json!([{"place": "board", "test": "trip", "part": "balancing board", "reading": reading}]))],
        )
    };
    // 70 A ± 20 %: 56 to 84 A.
    let (good, bad) = (read(62.0), read(40.0));
    assert_eq!(trip(&good).outcome, Outcome::Right);
    let adopted = apply(&good, &trip(&good).adopt).unwrap();
    let assessment = assess(&adopted).unwrap();
    assert!((assessment.figure("board.trip_a").unwrap().value - 62.0).abs() < 1e-9);
    assert!((assessment.figure("board.trip_a").unwrap().low.unwrap() - 61.0).abs() < 1e-9, "as fine as the meter");
    assert_eq!(trip(&bad).outcome, Outcome::Wrong);
    let stops: Vec<_> = assess(&bad).unwrap().findings.into_iter().filter(|f| f.severity == Severity::Stop).collect();
    assert_eq!(stops.len(), 1);
    assert_eq!(stops[0].key, "protection.failed-on-arrival@board");
    // The reading belongs to the part it was taken on.
    let other = with(&bad, &[("board/offer/name", json!("another board"))]);
    assert!(assess(&other).unwrap().findings.is_empty());
}

/// 9 A now; 14 A want a 20 A blade (14 / 0.75 = 18.7), and a lead for it.
#[test]
fn raising_the_current_lists_what_to_change_the_cheapest_first() {
    let raised = raise(&sound(), &catalogue(), 14.0).unwrap();
    let links: Vec<&str> = raised.steps.iter().map(|s| s.link.as_str()).collect();
    assert!(links.contains(&"fuse"), "{:?}", raised.steps);
    let prices: Vec<f64> = raised.steps.iter().map(|s| s.price.unwrap_or(f64::MAX)).collect();
    assert!(prices.windows(2).all(|w| w[0] <= w[1]), "{prices:?}");
    for step in &raised.steps {
        // What the fuse guards must bear its 20 A.
        let least_a = if step.link == "fuse" { 14.0 } else { 20.0 };
        assert!(step.now_a.is_some_and(|a| a < least_a) && step.then_a.is_some_and(|a| a >= least_a), "{step:?}");
    }
    assert!(raised.then_a.unwrap() >= 14.0);
    let changes: Vec<_> = raised.steps.iter().flat_map(|s| s.changes.clone()).collect();
    let after = assess(&apply(&sound(), &changes).unwrap()).unwrap();
    assert!(after.findings.iter().all(|f| f.severity < Severity::Stop), "{:?}", after.findings);
    assert!(raise(&sound(), &catalogue(), 9.0).unwrap().steps.is_empty(), "what it bears already takes nothing");
    let errors = raise(&sound(), &catalogue(), -1.0).unwrap_err();
    assert_eq!(errors[0].field, "/wanted_a");
}

/// Warm at the low end of its detector one pair holds 0.12 V / 0.072 ohm = 1.67 A: 12 A want eight.
#[test]
fn a_board_of_known_transistors_can_be_raised_by_soldering_in_more() {
    let raised = raise(&with(&sound(), &[("board", remade())]), &Catalogue::default(), 11.0).unwrap();
    let board = raised.steps.iter().find(|s| s.link == "board").unwrap();
    assert!(board.change.as_ref().unwrap().starts_with("2 more MOSFET pairs"), "{board:?}");
}

#[test]
fn a_load_that_is_not_surveyed_yet_can_be_asked_about_too() {
    let plan = with(&sound(), &[("device/loads", json!([]))]);
    let raised = raise(&plan, &catalogue(), 20.0).unwrap();
    assert!(raised.steps.iter().any(|s| s.link == "fuse"), "{:?}", raised.steps);
}

/// For every kind of job the catalogue has a board and a fuse, shown with what speaks for them, or says why none fits;
/// and where there is none, that is judged.
#[test]
fn for_every_job_a_board_and_a_fuse_can_be_chosen_with_reasons() {
    let catalogue = catalogue();
    let none = json!({"state": "none"});
    for (name, plan) in common::jobs::plans() {
        for place in ["board", "fuse"] {
            let open = with(&plan, &[(place, json!({"state": "open"}))]);
            let found = suggest(&open, &catalogue, place).unwrap();
            let fits = found.iter().find(|s| s.worst != Some(Severity::Stop));
            match fits {
                Some(best) => assert!(!best.merits.is_empty(), "{name}: {place} {}", best.offer.name),
                None => assert!(found.iter().all(|s| !s.reasons.is_empty()), "{name}: {place}"),
            }
            let charged_only = place == "board" && fits.is_none();
            assert!(
                !charged_only,
                "{name}: no board of the catalogue fits: {:?}",
                found.iter().map(|s| (&s.offer.name, &s.reasons)).collect::<Vec<_>>()
            );
        }
        let bare = with(&plan, &[("board", none.clone()), ("fuse", none.clone())]);
        let judged = assess(&bare).unwrap().findings;
        assert!(judged.iter().any(|f| f.rule == "protection.no-over-current"), "{name}: nothing ends a short");
    }
}

/// There and back again, the plan is what it was; on the charge side the board no longer guards the load.
#[test]
fn a_board_can_be_placed_on_the_charge_side_and_back() {
    let plan = with(&sound(), &[("device/cutout_v", common::known(12.0))]);
    let places = board_places(&plan).unwrap();
    assert_eq!(places.iter().map(|p| p.chosen).collect::<Vec<_>>(), [true, false]);
    let aside = apply(&plan, &places[1].changes).unwrap();
    let rules: Vec<_> = assess(&aside).unwrap().findings.into_iter().map(|f| f.rule).collect();
    assert_eq!(rules, ["protection.charge-side-only"]);
    let places = board_places(&aside).unwrap();
    assert_eq!(places.iter().map(|p| p.chosen).collect::<Vec<_>>(), [false, true]);
    assert_eq!(apply(&aside, &places[0].changes).unwrap(), plan);
}

/// Half as much again as the pack recovers by: the smallest change to a cut-off that chatters is its other setting.
#[test]
fn a_cut_off_that_chatters_is_set_to_close_again_higher() {
    let cut_off = common::module("cut-off board", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 12.5}}));
    let plan = with(&sound(), &[("cutoff", cut_off)]);
    let rebound_v = assess(&plan).unwrap().figure("cutoff.rebound_v").unwrap().value;
    let fixes = brick_core::fixes(&plan, &catalogue(), "protection.cutoff-chatter").unwrap();
    let set = fixes.iter().find(|f| f.label.starts_with("Set it to close again at")).unwrap();
    let closes_v = set.changes[0].value.as_f64().unwrap();
    assert!((closes_v - (12.4 + 1.5 * rebound_v)).abs() < 1e-9, "{closes_v}");
}

/// Of a fuse without a curve only what it carries for good is counted on: nothing says when it opens.
#[test]
fn a_fuse_of_another_build_promises_nothing_in_time() {
    let plan = with(
        &sound(),
        &[
            ("fuse/style", json!("other")),
            ("board", json!({"state": "none"})),
            ("device/cutout_v", common::known(12.0)),
        ],
    );
    let assessment = assess(&plan).unwrap();
    assert!(
        (assessment.figure("fuse.peak_a").unwrap().value - assessment.figure("fuse.carries_a").unwrap().value).abs()
            < 1e-9
    );
    let rules: Vec<&str> = assessment.findings.iter().map(|f| f.rule.id()).collect();
    assert_eq!(rules, ["protection.fuse-peak", "protection.short-too-late"], "{rules:?}");
    let questions: Vec<&str> = assessment.stages.iter().flat_map(|s| &s.to_find_out).map(|q| q.what.as_str()).collect();
    assert!(questions.iter().any(|q| q.contains("Time-current curve")), "{questions:?}");
}

/// Rated for 30 A by its seller, but 0.15 V over five pairs trip from 8.3 A on: the rating does not help.
#[test]
fn a_rating_above_its_own_trip_does_not_spare_a_board_its_change() {
    let plan = with(&sound(), &[("board", remade()), ("board/protects/continuous_a", json!(30.0))]);
    assert!(
        assess(&plan).unwrap().findings.iter().any(|f| f.rule == "protection.trip-in-load"),
        "9 A reach into 8.3 A"
    );
    let raised = raise(&plan, &Catalogue::default(), 11.0).unwrap();
    let board = raised.steps.iter().find(|s| s.link == "board").unwrap();
    assert!(board.change.as_ref().unwrap().starts_with("2 more MOSFET pairs"), "{board:?}");
}
