//! One flaw at a time in a sound plan: exactly the finding meant must come, and go when the flaw goes.

use crate::common;

use brick_core::assess::rule::{BOOK, Rule};
use brick_core::assess::{Severity, assess};
use brick_core::base::source::Source;
use common::flaws::{changes_of, flaws};
use common::{sound, with};
use serde_json::json;

#[test]
fn the_sound_plan_brings_no_finding_at_all() {
    let assessment = assess(&sound()).unwrap();
    let found: Vec<_> = assessment.findings.iter().map(|f| (&f.key, &f.why.text)).collect();
    assert!(found.is_empty(), "{found:?}");
}

#[test]
fn each_flaw_brings_the_finding_meant_and_no_other() {
    let mut wrong = vec![];
    for flaw in flaws() {
        let given = with(&sound(), &flaw.given);
        let before: Vec<String> = assess(&given).unwrap().findings.into_iter().map(|f| f.key).collect();
        if before.iter().any(|key| key == flaw.brings) {
            wrong.push(format!("{}: {} fires without the flaw", flaw.name, flaw.brings));
        }
        let after =
            assess(&with(&given, &changes_of(&flaw))).unwrap_or_else(|e| panic!("{}: {e:?}", flaw.name)).findings;
        match after.iter().find(|f| f.key == flaw.brings) {
            None => {
                let keys: Vec<_> = after.iter().map(|f| &f.key).collect();
                wrong.push(format!("{}: {} is missing among {keys:?}", flaw.name, flaw.brings));
            }
            Some(f) if f.severity != flaw.severity => wrong.push(format!("{}: is {:?}", flaw.name, f.severity)),
            Some(f) if f.why.text.contains("unknown") || f.title.text.contains("unknown") => {
                wrong.push(format!("{}: says “{}”", flaw.name, f.why.text));
            }
            Some(_) => {}
        }
        for extra in after.iter().filter(|f| f.key != flaw.brings && !before.contains(&f.key)) {
            if !flaw.along.contains(&extra.key.as_str()) {
                wrong.push(format!("{}: also brings {} ({})", flaw.name, extra.key, extra.why.text));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Where the threshold of each rule comes from, besides common practice, which nobody published.
const SOURCES: &[(Source, &[&str])] = &[
    (Source::Iec62368, &["voltage.over-touch-limit"]),
    (Source::Jcgm100, &["device.error-decides"]),
    (
        Source::Iec62133,
        &["cells.over-charged", "charging.end-unsure", "charging.host-over-volts", "charging.over-volts"],
    ),
    (Source::IataDgr, &["run.baggage"]),
    (Source::Iec60364, &["protection.short-too-late", "wiring.wire-over-peak"]),
    (Source::Iec60127, &["protection.fuse-not-dc"]),
    (Source::Iso8820, &["charging.fuse-small", "protection.fuse-peak"]),
    (Source::ChurchillChu, &["wiring.charge-wire", "wiring.wire-over-current"]),
    (Source::MetalsHandbook, &["brick.strip-over-peak"]),
    (Source::FanLaws, &["voltage.faster-motor", "voltage.slower-motor"]),
    (
        Source::Arithmetic,
        &[
            "brick.cell-too-large",
            "brick.pack-too-large",
            "brick.thing-unplaced",
            "voltage.gauge-off",
            "cells.pulse-below-continuous",
            "device.old-run-doubtful",
            "protection.board-contradicts",
            "protection.rearm-below",
            "brick.does-not-fit",
            "brick.layout-for-other-counts",
            "brick.opening-blocked",
            "brick.wall-too-thick",
            "cells.groups-for-other-counts",
            "charging.other-count",
        ],
    ),
    (Source::Thue, &["brick.too-many-cells"]),
    (Source::Assumed, &["cells.group-spread", "voltage.other-packs", "protection.reserve-drains"]),
    (
        Source::CircuitLaw,
        &[
            "brick.loose-cells",
            "cells.holder-mixed",
            "cells.holder-not-charged",
            "cells.holder-reversed",
            "protection.no-taps",
            "charging.readings-disagree",
            "charging.supply-below-end",
            "charging.two-chargers",
            "device.gauge-blind",
            "protection.bypassed",
            "protection.out-reversed",
            "voltage.parallel-other-counts",
            "wiring.no-way",
            "wiring.tap-misplaced",
            "brick.group-apart",
            "brick.other-face",
            "brick.short",
            "brick.uneven-sharing",
            "cells.join-over-limit",
            "voltage.change-over-too-low",
            "voltage.hold-up-small",
            "voltage.comparator-blind",
            "voltage.parallel-never-runs",
            "voltage.make-before-break",
            "voltage.packs-apart",
            "voltage.packs-unequal",
            "charging.balancing-long",
            "charging.restarts",
            "charging.supply-low",
            "charging.below-full",
            "device.alarm-not-rescaled",
            "device.lower-setting-never-runs",
            "charging.no-supply",
            "charging.slow",
            "charging.supply-weak",
            "protection.fuse-breaking",
            "protection.trip-not-as-stated",
            "run.brown-out",
            "run.shorter-than-before",
            "run.shorter-than-wanted",
            "voltage.charge-unused",
            "voltage.loaded-below-device",
            "voltage.nothing-usable",
            "wiring.drop-below-device",
        ],
    ),
    (
        Source::PartSheet,
        &[
            "brick.share-over-rating",
            "cells.holder-few",
            "voltage.selector-small",
            "charging.fuse-volts",
            "cells.over-rating",
            "cells.peak-over-rating",
            "charging.failed-on-arrival",
            "charging.over-board",
            "charging.over-cells",
            "charging.over-jack",
            "charging.supply-volts",
            "protection.board-over-current",
            "protection.failed-on-arrival",
            "protection.fuse-volts",
            "protection.other-series",
            "voltage.boost-overfed",
            "voltage.buck-headroom",
            "voltage.converter-heat",
            "voltage.converter-input-current",
            "voltage.converter-input-peak",
            "voltage.converter-output-peak",
            "voltage.converter-input-high",
            "voltage.converter-input-low",
            "voltage.converter-output-current",
            "voltage.output-above-device",
            "voltage.output-below-device",
            "voltage.second-guard",
            "voltage.set-point-off",
            "voltage.set-point-unread",
            "wiring.bare-live-pins",
            "wiring.connector-over-current",
            "wiring.pack-plug-bare",
            "wiring.pack-plug-over-current",
            "wiring.connector-peak",
            "wiring.connector-volts",
            "wiring.switch-over-current",
            "wiring.switch-peak",
            "wiring.switch-volts",
            "wiring.unkeyed",
        ],
    ),
];

#[test]
fn every_rule_is_covered_and_names_the_source_of_its_threshold() {
    let mut rules = vec![];
    for flaw in flaws() {
        let plan = with(&with(&sound(), &flaw.given), &changes_of(&flaw));
        let findings = assess(&plan).unwrap().findings;
        let finding = findings.iter().find(|f| f.key == flaw.brings).unwrap();
        let expected = SOURCES.iter().find(|(_, rules)| rules.contains(&finding.rule.id()));
        assert_eq!(finding.source, expected.map_or(Source::CommonPractice, |(s, _)| *s), "{}", finding.rule);
        rules.push(finding.rule);
    }
    rules.sort_unstable();
    rules.dedup();
    // Every rule of the book: one without a flaw of its own would go untested.
    let mut written: Vec<Rule> = BOOK.iter().map(|entry| entry.rule).collect();
    written.sort_unstable();
    assert_eq!(rules, written);
}

#[test]
fn what_is_still_open_is_never_a_stop() {
    for place in ["board", "fuse", "switch", "plug", "jack", "charger", "packs/0/cell", "packs/0/strip", "lead/wire"] {
        let open = with(&sound(), &[(place, json!({"state": "open"}))]);
        let stops: Vec<_> = assess(&open)
            .unwrap()
            .findings
            .into_iter()
            .filter(|f| f.severity == Severity::Stop)
            .map(|f| f.key)
            .collect();
        assert!(stops.is_empty(), "{place}: {stops:?}");
    }
}
