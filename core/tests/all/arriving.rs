//! Arrival tests of every part the demo catalogue has, and what a reading says, wherever it lies.

use crate::common;

use std::collections::HashSet;

use brick_core::assess::{arrival_tests, assess};
use brick_core::base::chemistry::Chemistry;
use brick_core::base::range;
use brick_core::parts::catalogue::ItemPart;
use brick_core::physics::arrival::{ArrivalTests, Outcome, Task, judge, tests};
use brick_core::plan::{Arrival, Known, Part, apply};
use common::{catalogue, sound, with};
use proptest::prelude::*;
use serde_json::json;

fn task(series: u32) -> Task {
    let full_v = Some(f64::from(series) * 4.2);
    let facts = Some(Chemistry::LiIon.facts());
    Task { series: Some(series), facts, continuous_a: Some(9.0), full_v, pack_full_v: full_v, ..Task::default() }
}

/// Every part of the catalogue that has arrival tests, by its name.
fn bills() -> Vec<(String, ArrivalTests)> {
    let part = |item: ItemPart| match item {
        ItemPart::Module { module } => Some(Part::Module { module }),
        ItemPart::Fuse { fuse } => Some(Part::Fuse { fuse }),
        ItemPart::Switch { switch } => Some(Part::Switch { switch }),
        ItemPart::Connector { connector } => Some(Part::Connector { connector }),
        ItemPart::Cell { .. } | ItemPart::Pack { .. } | ItemPart::Strip { .. } | ItemPart::Wire { .. } => None,
    };
    let named = |item: brick_core::parts::catalogue::Item| {
        let name = item.offer().name.clone();
        Some((name, tests(&part(item.part)?, &task(4))?))
    };
    catalogue().items.into_iter().filter_map(named).collect()
}

#[test]
fn every_board_charger_fuse_supply_and_switch_of_the_catalogue_can_be_tested() {
    let bills = bills();
    assert!(bills.len() > 40, "{}", bills.len());
    for (name, bill) in &bills {
        assert!(!bill.needs.is_empty() && bill.tests.len() >= 3, "{name}");
        let ids: HashSet<&str> = bill.tests.iter().map(|t| t.id).collect();
        assert_eq!(ids.len(), bill.tests.len(), "{name}: an id twice");
        for test in &bill.tests {
            assert!(
                !test.steps.is_empty() && test.expected.is_some() != test.question.is_some(),
                "{name}: {}",
                test.id
            );
        }
    }
}

/// What should be read can be typed: it lies in the range of its field, and its ends are in order.
#[test]
fn what_should_be_read_can_be_typed() {
    for (name, bill) in bills() {
        for test in &bill.tests {
            let Some(expected) = &test.expected else { continue };
            let range =
                range::ALL.iter().find(|r| r.key == expected.range).unwrap_or_else(|| panic!("{}", expected.range));
            assert_eq!(range.unit, expected.unit, "{name}: {}", test.id);
            assert!(expected.low < expected.high, "{name}: {} {expected:?}", test.id);
            let middle = (expected.low + expected.high) / 2.0;
            assert!(range.check(middle).is_ok(), "{name}: {} {expected:?}", test.id);
        }
    }
}

/// A module that charges and protects is tested for both; a nickel charger for nothing, since it is refused.
#[test]
fn a_module_is_tested_for_all_it_does() {
    let found = bills();
    let of = |word: &str| found.iter().find(|(name, _)| name.contains(word)).map(|(_, bill)| bill);
    let both = of("charge-and-protect").unwrap();
    let ids: Vec<&str> = both.tests.iter().map(|t| t.id).collect();
    assert!(ids.contains(&"trip") && ids.contains(&"restart"), "{ids:?}");
    assert!(of("nickel").is_none_or(|b| b.tests.iter().all(|t| t.id != "restart")));
}

/// Counting on a reading puts it where the part's own figure stands, once: then there is nothing more to count on.
#[test]
fn a_reading_that_is_counted_on_stands_in_the_plan() {
    let plan = sound();
    for (place, test, value, at, stands) in [
        ("board", "under", 12.08, "/nodes/1/part/part/module/protects/over_discharge_v", 3.02),
        ("board", "over", 17.0, "/nodes/1/part/part/module/protects/over_charge_v", 4.25),
        ("board", "way", 0.004, "/nodes/1/part/part/module/protects/path_ohm", 0.004),
        ("board", "drain", 0.000_04, "/nodes/1/part/part/module/standby_a", 0.000_04),
        ("switch", "contact", 0.003, "/nodes/4/part/part/switch/contact_ohm", 0.003),
        ("charger", "current", 1.9, "/nodes/10/part/part/module/charges/output_a", 1.9),
    ] {
        let reports = arrival_tests(&plan).unwrap();
        let part = reports.iter().find(|r| r.place == place).unwrap().part.clone();
        let reading = json!({"value": value, "how": "measured"});
        let arrivals = json!([{"place": place, "test": test, "part": part, "reading": reading}]);
        let read = with(&plan, &[("arrivals", arrivals)]);
        let report = |plan: &brick_core::Plan| {
            let reports = arrival_tests(plan).unwrap();
            let part = reports.into_iter().find(|r| r.place == place).unwrap();
            part.tests.into_iter().find(|t| t.test.id == test).unwrap()
        };
        let before = report(&read);
        assert_eq!(before.outcome, Outcome::Right, "{place} {test}: {}", before.words);
        let counted = apply(&read, &before.adopt).unwrap();
        let found = serde_json::to_value(&counted).unwrap().pointer(at).unwrap().as_f64().unwrap();
        assert!((found - stands).abs() < 1e-9, "{place} {test}: {found}");
        assert!(report(&counted).adopt.is_empty(), "{place} {test} can be counted on twice");
        assert!(assess(&counted).is_ok());
    }
}

proptest! {
    /// Moving a reading away from where it should lie never turns a wrong part right.
    #[test]
    fn farther_off_is_never_better(which in 0usize..200, off in 0.0f64..3.0, more in 0.0f64..3.0, error in 0.0f64..0.2) {
        let bills = bills();
        let all: Vec<_> = bills.iter().flat_map(|(n, b)| b.tests.iter().map(move |t| (n, t))).filter(|(_, t)| t.expected.is_some()).collect();
        let (name, test) = all[which % all.len()];
        let expected = test.expected.as_ref().unwrap();
        let width = expected.high - expected.low;
        let said = |by: f64| {
            let reading = Some(Known { error: Some(error * width), ..Known::measured(expected.high + by * width) });
            let done = Arrival { place: "p".into(), test: test.id.into(), part: name.clone(), reading, passed: None };
            judge(test, name, Some(&done)).0
        };
        let rank = |o: Outcome| match o { Outcome::Right => 0, Outcome::Unsettled => 1, Outcome::Wrong => 2, Outcome::Open => 3 };
        prop_assert!(rank(said(off)) <= rank(said(off + more)));
        prop_assert_ne!(said(off), Outcome::Open);
    }
}
