//! What somebody will do later: each misuse is told with what happens, prevented or warned of, and the warnings print.

use crate::common;

use std::collections::BTreeSet;

use brick_core::advise::misuse::{Misuse, Prevented, misuses};
use brick_core::assess::assess;
use brick_core::plan::Plan;
use brick_core::print::sheets::sheets;
use common::jobs::{entered, told};
use common::{known, module, sound, with};
use serde_json::{Value, json};

fn of(changes: &[(&str, Value)]) -> Vec<Misuse> {
    misuses(&with(&sound(), changes)).unwrap()
}

fn one<'a>(all: &'a [Misuse], id: &str) -> &'a Misuse {
    all.iter().find(|m| m.id == id).unwrap_or_else(|| panic!("no {id}"))
}

#[test]
fn every_job_foresees_what_happens_and_says_what_stands_against_it() {
    let mut seen = BTreeSet::new();
    for told in told() {
        let plan = entered(&told);
        let all = misuses(&plan).unwrap();
        assert!(all.len() >= 5, "{}: {}", told.name, all.len());
        let keys: BTreeSet<String> = assess(&plan).unwrap().findings.into_iter().map(|f| f.key).collect();
        for m in &all {
            seen.insert(m.id);
            for text in [&m.happens, &m.by] {
                assert!(text.ends_with('.') && !text.contains("NaN") && !text.contains("  "), "{}: {text}", told.name);
            }
            assert!(m.finding.as_ref().is_none_or(|key| keys.contains(key)), "{}: {:?}", told.name, m.finding);
            if m.prevented == Prevented::ByLabel {
                assert!(m.label.is_some(), "{}: {} has no words", told.name, m.id);
            }
        }
    }
    let all = [
        "cold",
        "dialled-output",
        "larger-fuse",
        "left-on",
        "old-cells",
        "old-charger",
        "other-charger",
        "posted",
        "reversed",
        "stored",
        "unequal",
    ];
    assert_eq!(seen.into_iter().collect::<Vec<_>>(), all);
}

#[test]
fn what_nothing_prevents_comes_first_and_leads_to_its_finding() {
    let all = of(&[("device/original/charger_fits", json!(true)), ("device/original/charger_v", known(20.0))]);
    let first = &all[0];
    assert_eq!((first.id, first.prevented), ("old-charger", Prevented::NotYet));
    assert_eq!(first.finding.as_deref(), Some("charging.old-charger-fits"));
    assert!(first.happens.contains("20 V") && first.label.as_ref().unwrap().contains("16.8 V"), "{first:?}");
    let mended = of(&[("device/original/charger_fits", json!(false))]);
    assert_eq!(one(&mended, "old-charger").prevented, Prevented::ByDesign);
    let asked = of(&[("device/original/charger_fits", Value::Null)]);
    assert_eq!(one(&asked, "old-charger").prevented, Prevented::Unknown, "unknown is never no");
}

#[test]
fn a_switch_left_on_is_reckoned_and_a_guard_ends_it() {
    // 5 Ah at 20 mA are 10 days.
    let guarded = of(&[("device/proving", json!({"idle_a": known(0.02)}))]);
    let left_on = one(&guarded, "left-on");
    assert!(left_on.happens.contains("10 days"), "{}", left_on.happens);
    assert_eq!(left_on.prevented, Prevented::ByDesign);
    let bare = of(&[("board", json!({"state": "none"}))]);
    assert_eq!(one(&bare, "left-on").prevented, Prevented::ByLabel);
}

#[test]
fn a_dialled_output_with_a_fixed_socket_is_mended_not_labelled() {
    let converter = |socket: bool| {
        module(
            "adjustable converter",
            json!({"converts": {"topology": "buck_boost", "output_v": 12.0, "wired_in": false, "efficiency": 0.9,
            "adjustable": true, "fixed_socket": socket}}),
        )
    };
    let with_socket = of(&[("converter", converter(true))]);
    let misuse = one(&with_socket, "dialled-output");
    assert_eq!((misuse.prevented, misuse.finding.as_deref()), (Prevented::NotYet, Some("voltage.fixed-socket")));
    assert_eq!(one(&of(&[("converter", converter(false))]), "dialled-output").prevented, Prevented::ByLabel);
    assert!(of(&[]).iter().all(|m| m.id != "dialled-output"), "nothing to dial");
}

#[test]
fn the_label_of_warnings_holds_every_word_and_stays_in_its_frame() {
    let plan = with(&sound(), &[("device/original/charger_fits", json!(true)), ("plug/keyed", json!(false))]);
    let all = misuses(&plan).unwrap();
    let sheet =
        sheets(&plan, &assess(&plan).unwrap(), "2026-11-26").into_iter().find(|s| s.name == "warnings").unwrap();
    let page = roxmltree::Document::parse(&sheet.svg).unwrap();
    let text: String =
        page.descendants().filter(|n| n.has_tag_name("text")).filter_map(|n| n.text()).collect::<Vec<_>>().join(" ");
    for label in all.iter().filter_map(|m| m.label.as_ref()) {
        assert!(label.split_whitespace().all(|word| text.contains(word)), "{label} is not on it");
    }
    let frame = page.descendants().find(|n| n.attribute("id") == Some("warnings")).unwrap();
    let number = |n: &roxmltree::Node<'_, '_>, name: &str| n.attribute(name).unwrap().parse::<f64>().unwrap();
    let bottom_mm = number(&frame, "y") + number(&frame, "height");
    for line in page.descendants().filter(|n| n.attribute("class") == Some("line")) {
        assert!(number(&line, "y") < bottom_mm, "{:?} is below the frame", line.text());
    }
}

#[test]
fn a_blank_plan_invites_nothing_yet() {
    assert!(misuses(&Plan::blank("nothing yet")).unwrap().is_empty());
}
