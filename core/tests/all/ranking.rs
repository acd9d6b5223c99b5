//! Options, suggestions and differences: in a sensible order, honest about what they bring, complete about what changed.

use crate::common;

use brick_core::advise::suggest::{options, suggest};
use brick_core::assess::{Severity, assess};
use brick_core::plan::{Change, Plan, apply, differences};
use common::{catalogue, known, sound, with};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A device of so many cells of that chemistry, nothing else known but its current.
fn device(chemistry: &str, series: u32) -> Plan {
    with(
        &Plan::blank("Kite reel"),
        &[
            ("device/original", json!({"chemistry": chemistry, "series": series, "capacity_ah": known(2.0)})),
            ("device/loads", json!([{"id": "on", "name": "on", "draw": {"as": "current", "value_a": known(1.0)}}])),
        ],
    )
}

/// For every original battery a maker brings: some option without a stop, the best first, each as its changes make it.
#[test]
fn every_original_battery_has_an_option_and_the_order_is_by_verdict() {
    for (chemistry, counts) in [
        ("nickel", &[4, 6, 8, 10, 12, 15][..]),
        ("lead_acid", &[3, 6, 12]),
        ("alkaline", &[3, 4, 6, 8]),
        ("li_ion", &[1, 2, 3, 4, 5]),
        ("li_fe_po4", &[2, 4]),
        ("li_po", &[2, 3]),
    ] {
        for &series in counts {
            let plan = device(chemistry, series);
            let found = options(&plan).unwrap().options;
            assert!(found.len() >= 8, "{series} {chemistry}: only {} options", found.len());
            assert_ne!(found[0].worst, Some(Severity::Stop), "{series} {chemistry}: {}", found[0].name);
            assert!(found.windows(2).all(|w| w[0].worst <= w[1].worst), "{series} {chemistry}: not by verdict");
            let mut names: Vec<String> = found.iter().map(|o| format!("{} {:?}", o.name, o.output_v)).collect();
            names.sort_unstable();
            names.dedup();
            assert_eq!(names.len(), found.len(), "{series} {chemistry}: an option comes twice");
            for option in &found {
                let chosen = assess(&apply(&plan, &option.changes).unwrap()).unwrap();
                let value = |id: &str| chosen.figure(id).map(|f| f.value);
                assert_eq!(value("pack.full_v"), Some(option.full_v), "{}", option.name);
                assert_eq!(value("run.usable_share"), option.usable_share, "{}", option.name);
                assert!(option.empty_v < option.nominal_v && option.nominal_v < option.full_v, "{}", option.name);
                assert!(!option.reasons.is_empty(), "{} says nothing for or against itself", option.name);
            }
        }
    }
}

/// The option that is chosen is marked, and only that one.
#[test]
fn choosing_an_option_marks_it_and_no_other() {
    let plan = device("nickel", 12);
    for option in options(&plan).unwrap().options.into_iter().take(12) {
        let chosen = apply(&plan, &option.changes).unwrap();
        let marked: Vec<_> =
            options(&chosen).unwrap().options.into_iter().filter(|o| o.chosen).map(|o| o.name).collect();
        assert_eq!(marked, [option.name]);
    }
}

#[test]
fn suggestions_come_the_best_first_and_say_why_a_misfit_is_one() {
    let catalogue = catalogue();
    for place in ["cell", "strip", "board", "fuse", "switch", "plug", "jack", "charger", "lead"] {
        let found = suggest(&sound(), &catalogue, place).unwrap();
        assert!(found.windows(2).all(|w| w[0].worst <= w[1].worst), "{place}: not by verdict");
        for s in &found {
            assert_eq!(s.worst.is_none(), s.reasons.is_empty(), "{place}, {}: {:?}", s.offer.name, s.reasons);
            assert!(s.offer.name.chars().count() > 3 && !s.catalogue_id.is_empty());
        }
        // Equal in verdict and in count of reasons, what is at hand stands before what must be bought.
        for pair in found.windows(2).filter(|w| w[0].worst.is_none() && w[1].worst.is_none()) {
            let at_hand = |s: &brick_core::advise::suggest::Suggestion| s.offer.arrives_days == Some(0.0);
            assert!(at_hand(&pair[0]) || !at_hand(&pair[1]), "{place}: {} before what is at hand", pair[0].offer.name);
        }
    }
}

/// Every number in a document, by pointer.
fn numbers(at: &str, value: &Value, found: &mut Vec<String>) {
    match value {
        Value::Number(n) if n.is_f64() => found.push(at.to_owned()),
        Value::Array(items) => items.iter().enumerate().for_each(|(i, v)| numbers(&format!("{at}/{i}"), v, found)),
        Value::Object(map) => map.iter().for_each(|(k, v)| numbers(&format!("{at}/{k}"), v, found)),
        _ => {}
    }
}

fn places() -> Vec<String> {
    let mut found = vec![];
    numbers("", &serde_json::to_value(sound()).unwrap(), &mut found);
    found
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 200, failure_persistence: None, ..ProptestConfig::default() })]

    /// One number changed is one thing told, at a place that leads to it; nothing changed is nothing told.
    #[test]
    fn what_changed_is_told_and_nothing_else(pick in any::<prop::sample::Index>(), factor in 1.01..1.9f64) {
        let places = places();
        let at = pick.get(&places).clone();
        let old = serde_json::to_value(sound()).unwrap().pointer(&at).and_then(Value::as_f64).unwrap();
        let now = if old == 0.0 { 0.5 } else { old * factor };
        let plan = apply(&sound(), &[Change::put(at.clone(), now)]).unwrap();
        let told = differences(&sound(), &plan);
        prop_assert_eq!(told.len(), 1, "{}: {:?}", at, told);
        prop_assert!(at == told[0].at || at.starts_with(&format!("{}/", told[0].at)), "{} is told as {}", at, told[0].at);
        prop_assert!(!told[0].what.is_empty() && told[0].before.is_some() && told[0].after.is_some());
        prop_assert!(differences(&plan, &plan).is_empty());
        // Backwards, before and after change places.
        let back = differences(&plan, &sound());
        prop_assert_eq!((&back[0].before, &back[0].after), (&told[0].after, &told[0].before));
    }

    /// A plan survives its file value for value, whatever numbers stand in it.
    #[test]
    fn any_numbers_survive_the_file(picks in prop::collection::vec((any::<prop::sample::Index>(), 1e-6..1e6f64), 1..8)) {
        let places = places();
        let changes: Vec<Change> = picks.iter().map(|(pick, value)| Change::put(pick.get(&places).clone(), *value)).collect();
        let plan = apply(&sound(), &changes).unwrap();
        if plan.check().is_ok() {
            let again = Plan::from_json(&plan.to_json().unwrap()).map_err(|e| TestCaseError::fail(e.to_string()))?;
            prop_assert_eq!(&again, &plan);
            prop_assert_eq!(assess(&again).unwrap(), assess(&plan).unwrap());
        }
    }
}
