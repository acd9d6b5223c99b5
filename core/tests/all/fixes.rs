//! Fixes: each clears its finding, brings no stop, and is no larger than it must be.

use crate::common;

use std::collections::BTreeSet;

use brick_core::assess::{Severity, assess};
use brick_core::parts::catalogue::ItemPart;
use brick_core::plan::{Plan, apply};
use brick_core::{Catalogue, fixes};
use common::flaws::laying::laid;
use common::flaws::{changes_of, flaws};
use common::{catalogue, known, module, sound, with};
use serde_json::json;

fn keys(plan: &Plan, severity: Severity) -> BTreeSet<String> {
    let findings = assess(plan).unwrap().findings;
    findings.into_iter().filter(|f| f.severity == severity).map(|f| f.key).collect()
}

/// Rules whose cure is the maker's own work: measuring, another resistor in a gauge, a second pack, another hole, levelling cells by hand.
const NO_FIX: [&str; 26] = [
    "brick.opening-blocked@bay-0",
    "brick.sign-unseen",
    "brick.wall-too-thick@bay-0",
    // What was read is no choice of the plan: it is read again, or the cell goes.
    "cells.above-full@group-2",
    "cells.below-floor@group-4",
    "cells.group-spread",
    "cells.join-over-limit",
    "cells.join-unequal",
    "cells.over-charged@group-3",
    "cells.over-charged@pack",
    "charging.groups-apart",
    "charging.readings-disagree",
    "device.label-volts",
    "device.old-run-doubtful",
    // The catalogue has no shorter cell.
    "brick.cell-too-large",
    "voltage.packs-unread",
    // The circuit is not closed: where, the finding says.
    "wiring.no-way",
    "wiring.no-way@charge",
    "wiring.tap-misplaced@group-2",
    "wiring.tap-misplaced@group-3",
    "device.alarm-not-rescaled@0",
    "device.error-decides@device.lowest_v",
    "device.highest-assumed",
    "device.no-way-back-unproved",
    "voltage.other-packs",
    "voltage.packs-apart",
];

#[test]
fn every_stop_and_caution_has_a_fix_that_clears_it_and_brings_no_stop() {
    let catalogue = catalogue();
    let mut wrong = vec![];
    for flaw in flaws().iter().filter(|f| f.severity > Severity::Note && !NO_FIX.contains(&f.brings)) {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(flaw));
        let before = keys(&plan, Severity::Stop);
        let found = fixes(&plan, &catalogue, flaw.brings).unwrap();
        if found.is_empty() {
            wrong.push(format!("{}: nothing clears {}", flaw.name, flaw.brings));
        }
        for fix in found {
            let fixed = apply(&plan, &fix.changes).unwrap();
            let after = assess(&fixed).unwrap().findings;
            if after.iter().any(|f| f.key == flaw.brings) {
                wrong.push(format!("{}: “{}” does not clear {}", flaw.name, fix.label, flaw.brings));
            }
            for stop in keys(&fixed, Severity::Stop).difference(&before) {
                wrong.push(format!("{}: “{}” brings {stop}", flaw.name, fix.label));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_smallest_change_comes_first() {
    let catalogue = catalogue();
    let first = |changes: &[(&str, serde_json::Value)], key: &str| {
        fixes(&with(&sound(), changes), &catalogue, key).unwrap().remove(0).label
    };
    let thin = [("strip/width_mm", json!(8.0)), ("strip/thickness_mm", json!(0.15)), ("strip/side_by_side", json!(1))];
    // One layer of 8 x 0.15 mm bears 5 A, the load asks for 9: two are enough.
    assert_eq!(first(&thin, "brick.strip-over-current"), "Two layers of strip");
    assert_eq!(first(&[("cell/discharge_a", json!(4.0))], "cells.over-rating"), "3 cells in parallel");
    // The nearest size, not the largest of the shelf.
    assert_eq!(first(&[("fuse/rating_a", json!(20.0))], "protection.fuse-above-wire@lead"), "blade fuse 15 A, 32 V DC");
    // Of the same make: silicone stays silicone, though a PVC wire of the shelf is nearer in size.
    assert_eq!(
        first(&[("device/original/wire/awg", json!(14))], "wiring.thinner-than-before@lead"),
        "silicone wire 14 AWG"
    );
}

#[test]
fn another_voltage_takes_board_and_charger_along() {
    // The device bears 13 V: four cells are too many, and three want their own board and charger.
    let plan = with(&sound(), &[("device/highest_v", known(13.0)), ("device/original/series", json!(10))]);
    let found = fixes(&plan, &catalogue(), "voltage.full-above-device").unwrap();
    let fix = found.iter().find(|f| f.label.starts_with("3S Li-ion, direct")).unwrap_or_else(|| panic!("{found:?}"));
    assert!(fix.label.contains("board") && fix.label.contains("charger"), "{}", fix.label);
    let fixed = apply(&plan, &fix.changes).unwrap();
    assert_eq!(fixed.packs[0].series, Some(3));
    assert!(keys(&fixed, Severity::Stop).is_empty());
}

#[test]
fn a_key_the_plan_does_not_bring_is_refused_by_name() {
    let errors = fixes(&sound(), &catalogue(), "brick.strip-over-current").unwrap_err();
    assert_eq!(errors[0].field, "/finding");
    assert!(errors[0].message.contains("brick.strip-over-current"));
}

#[test]
fn an_accepted_caution_comes_back_when_its_figure_worsens_by_over_five_per_cent() {
    let at = |load_a: f64, accepted_at: f64| {
        let accepted =
            json!([{"finding": "protection.fuse-nuisance", "reason": "short use", "deciding_value": accepted_at}]);
        let plan = with(
            &sound(),
            &[("fuse/rating_a", json!(7.5)), ("device/loads/0/draw/value_a", known(load_a)), ("accepted", accepted)],
        );
        let findings = assess(&plan).unwrap().findings;
        findings.into_iter().find(|f| f.key == "protection.fuse-nuisance").unwrap()
    };
    let fresh = at(9.0, 9.0);
    assert_eq!(fresh.accepted.as_deref(), Some("short use"));
    assert_eq!(fresh.deciding.unwrap().figure, "load.continuous_a");
    assert!(at(9.45, 9.0).accepted.is_some(), "5 % is still what was accepted");
    assert!(at(9.5, 9.0).accepted.is_none(), "more is not");
    assert!(at(7.0, 9.0).accepted.is_some(), "less load is better, not worse");
}

/// A run that ends earlier warms the cells less: with a cut-off board in the line its threshold may be raised.
#[test]
fn a_higher_cut_off_keeps_the_cells_cooler() {
    let catalogue = catalogue();
    let board = module("cut-off board", json!({"cuts_off": {"at_v": 12.4, "rearm_v": 13.4}}));
    let hot = with(&with(&sound(), &laid()), &[("cutoff", board), ("environment/use_max_c", json!(46.5))]);
    assert!(keys(&hot, Severity::Caution).contains("brick.hottest-cell"));
    let found = fixes(&hot, &catalogue, "brick.hottest-cell").unwrap();
    let higher = found.iter().find(|f| f.label.starts_with("Cut-off at ")).unwrap();
    let cooler = apply(&hot, &higher.changes).unwrap();
    let hottest_c = |plan: &Plan| assess(plan).unwrap().figure("brick.hottest_c").unwrap().value;
    assert!(hottest_c(&cooler) < hottest_c(&hot));
    let run_s = |plan: &Plan| assess(plan).unwrap().figure("run.time_s").unwrap().value;
    assert!(run_s(&cooler) < run_s(&hot), "what it costs");
}

/// A plug on a lead is no charge socket, whatever it carries: only what is sold for a wall is offered for one.
#[test]
fn a_charge_socket_is_never_mended_with_a_plug_on_a_lead() {
    let weak = with(&sound(), &[("jack/continuous_a", json!(1.0))]);
    let key = "charging.over-jack@jack";
    let mut catalogue = catalogue();
    let offered = |catalogue: &Catalogue| {
        let fixes = fixes(&weak, catalogue, key).unwrap();
        fixes.into_iter().filter(|f| f.changes[0].at.contains("/nodes/")).map(|f| f.label).collect::<Vec<_>>()
    };
    assert!(offered(&catalogue).iter().any(|label| label.contains("jack")), "{:?}", offered(&catalogue));
    assert!(offered(&catalogue).iter().all(|label| !label.contains("plug")), "{:?}", offered(&catalogue));
    for item in &mut catalogue.items {
        if let ItemPart::Connector { connector } = &mut item.part {
            connector.wall_socket = None;
        }
    }
    assert!(offered(&catalogue).iter().all(|label| !label.contains("plug")), "nobody says that a wall holds them");
}
