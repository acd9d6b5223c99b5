//! Choosing: voltage options, parts, changes; each is judged by the same assessment.

use crate::common;

use brick_core::Plan;
use brick_core::advise::suggest::{VoltageOption, options, suggest};
use brick_core::assess::{Severity, assess};
use brick_core::base::chemistry::Chemistry;
use brick_core::physics::voltage::{FeedPath, School};
use brick_core::plan::apply;
use common::{catalogue, known, sound, with};
use serde_json::json;

/// A surveyed device and nothing else.
fn surveyed() -> Plan {
    with(
        &Plan::blank("Garden blower"),
        &[
            ("device/kind", json!("motor")),
            ("device/original", json!({"chemistry": "nickel", "series": 12, "capacity_ah": known(1.7)})),
            ("device/highest_v", known(17.0)),
            ("device/lowest_v", known(9.0)),
            (
                "device/loads",
                json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": known(9.0)}}]),
            ),
            ("device/wanted_run_s", json!(1200.0)),
        ],
    )
}

fn find(found: &[VoltageOption], chemistry: Chemistry, series: u32, path: FeedPath) -> &VoltageOption {
    let same = |o: &&VoltageOption| o.chemistry == chemistry && o.series == series && o.path == path;
    found.iter().find(same).unwrap_or_else(|| panic!("{chemistry:?} {series}S {path:?} is missing"))
}

#[test]
fn four_li_ion_cells_lead_the_list_for_a_14_4_v_tool_and_five_are_rejected_with_a_reason() {
    let found = options(&surveyed()).unwrap();
    assert_eq!((found.lowest_v, found.highest_v, found.missing), (Some(9.0), Some(17.0), None));
    let best = &found.options[0];
    assert_eq!((best.chemistry, best.series, best.path), (Chemistry::LiIon, 4, FeedPath::Direct));
    assert!(best.worst.is_none() && best.usable_share.unwrap() > 0.8);
    let five = find(&found.options, Chemistry::LiIon, 5, FeedPath::Direct);
    assert_eq!(five.worst, Some(Severity::Stop));
    assert!(five.reasons.iter().any(|r| r.text.contains("exceeds the device's limit")), "{:?}", five.reasons);
    assert!((five.speed_change.unwrap() - 0.25).abs() < 1e-9);
}

#[test]
fn rejected_options_stand_last_and_every_one_says_why() {
    let found = options(&surveyed()).unwrap().options;
    assert!(found.len() > 20, "{}", found.len());
    let first_stop = found.iter().position(|o| o.worst == Some(Severity::Stop)).unwrap();
    assert!(found[first_stop..].iter().all(|o| o.worst == Some(Severity::Stop)));
    assert!(found.iter().all(|o| !o.reasons.is_empty()));
    for o in &found {
        assert!(o.empty_v < o.nominal_v && o.nominal_v < o.full_v, "{o:?}");
    }
}

#[test]
fn choosing_an_option_makes_the_plan_what_the_option_said() {
    let plan = surveyed();
    for option in options(&plan).unwrap().options {
        let chosen = apply(&plan, &option.changes).unwrap();
        let assessment = assess(&chosen).unwrap();
        let value = |id: &str| assessment.figure(id).map(|f| f.value);
        assert_eq!(value("pack.full_v"), Some(option.full_v));
        assert_eq!(value("run.usable_share"), option.usable_share);
        assert!(value("converter.needs_v").is_some() || option.path != FeedPath::Buck);
        let again = options(&chosen).unwrap().options;
        assert!(find(&again, option.chemistry, option.series, option.path).chosen, "{option:?}");
        assert_eq!(again.iter().filter(|o| o.chosen).count(), 1);
    }
}

#[test]
fn going_back_from_regulated_to_direct_takes_the_converter_out() {
    let plan = surveyed();
    let list = options(&plan).unwrap().options;
    let boosted = apply(&plan, &find(&list, Chemistry::LiIon, 3, FeedPath::Boost).changes).unwrap();
    assert!(assess(&boosted).unwrap().figure("converter.heat_w").is_some());
    let list = options(&boosted).unwrap().options;
    let direct = apply(&boosted, &find(&list, Chemistry::LiIon, 4, FeedPath::Direct).changes).unwrap();
    assert!(assess(&direct).unwrap().figure("converter.heat_w").is_none());
}

#[test]
fn another_chemistry_puts_a_chosen_cell_back_to_open() {
    let list = options(&sound()).unwrap().options;
    let phosphate = find(&list, Chemistry::LiFePo4, 4, FeedPath::Direct);
    let changed = apply(&sound(), &phosphate.changes).unwrap();
    assert!(changed.packs[0].cell.is_open());
    let same = find(&list, Chemistry::LiIon, 3, FeedPath::Direct);
    assert!(!apply(&sound(), &same.changes).unwrap().packs[0].cell.is_open());
}

#[test]
fn without_a_device_there_are_no_options_but_a_word_what_is_missing() {
    let found = options(&Plan::blank("Kite reel")).unwrap();
    assert!(found.options.is_empty());
    assert!(found.missing.unwrap().contains("old battery"));
}

#[test]
fn cells_come_with_the_count_they_need_and_what_decided_it() {
    let plan = with(&surveyed(), &[("packs/0/chemistry", json!("li_ion")), ("packs/0/series", json!(4))]);
    let found = suggest(&plan, &catalogue(), "cell").unwrap();
    assert!(found.iter().all(|s| s.parallel.is_some()));
    // 9 A for 20 min is 3 Ah; 3 Ah / (0.85 x 2.5 Ah) is 1.4 strings, so two; at 20 A a cell the current needs one.
    let power = found.iter().find(|s| s.catalogue_id == "cell-power-18650").unwrap();
    assert_eq!(power.parallel.as_ref().unwrap().text, "2 in parallel: the run time decides");
    let chosen = apply(&plan, &power.changes).unwrap();
    assert_eq!(chosen.packs[0].parallel, Some(2));
    // 9 A on cells of 4 A need three strings, the run 1.6.
    let weak = found.iter().find(|s| s.catalogue_id == "cell-salvaged-18650").unwrap();
    assert_eq!(weak.parallel.as_ref().unwrap().text, "3 in parallel: the current decides");
    assert!(found.iter().all(|s| !s.offer.name.contains("phosphate")), "only the pack's chemistry is offered");
    let claimed = found.iter().find(|s| s.catalogue_id == "cell-claimed-18650").unwrap();
    assert_eq!(claimed.worst, Some(Severity::Stop));
}

#[test]
fn the_part_in_the_plan_is_marked_and_a_suggestion_can_be_taken() {
    let plan = sound();
    let found = suggest(&plan, &catalogue(), "fuse").unwrap();
    assert!(found.iter().all(|s| !s.chosen), "the plan's fuse was typed by hand");
    let taken = apply(&plan, &found[0].changes).unwrap();
    let again = suggest(&taken, &catalogue(), "fuse").unwrap();
    let marked: Vec<_> = again.iter().filter(|s| s.chosen).map(|s| &s.catalogue_id).collect();
    assert_eq!(marked, [&found[0].catalogue_id]);
    assert!(assess(&taken).unwrap().findings.iter().all(|f| f.severity != Severity::Stop));
}

#[test]
fn the_better_fuse_comes_before_the_hopeless_one() {
    let found = suggest(&sound(), &catalogue(), "fuse").unwrap();
    let place = |id: &str| found.iter().position(|s| s.catalogue_id == id).unwrap();
    // 9 A ask for 12 A or more of a blade; 16 AWG carries under 20 A.
    assert!(place("fuse-blade-15") < place("fuse-blade-10"), "carries the load before too small");
    assert!(place("fuse-blade-10") < place("fuse-blade-3"), "nearly enough before hopeless");
    assert!(place("fuse-blade-3") < place("fuse-blade-40"), "a nuisance before a danger");
    assert_eq!(found[place("fuse-glass-10")].worst, Some(Severity::Stop), "no DC rating");
}

#[test]
fn a_charger_for_another_pack_is_a_misfit_with_its_reason() {
    let found = suggest(&sound(), &catalogue(), "charger").unwrap();
    assert!(found[0].offer.name.contains("4 series Li-ion"), "{}", found[0].offer.name);
    for (id, told) in [
        ("charger-li-5s-2a", "overcharges"),
        ("charger-li-2s-1a", "voltage too low"),
        ("old-nickel-charger", "nickel or lead"),
        ("converter-as-charger", "used as a charger"),
    ] {
        let misfit = found.iter().find(|s| s.catalogue_id == id).unwrap();
        assert_eq!(misfit.worst, Some(Severity::Stop), "{id}");
        assert!(misfit.reasons.iter().any(|r| r.text.contains(told)), "{id}: {:?}", misfit.reasons);
    }
}

#[test]
fn every_option_says_its_school_its_parts_and_what_it_costs() {
    let found = options(&surveyed()).unwrap().options;
    let boost = find(&found, Chemistry::LiIon, 3, FeedPath::Boost);
    assert_eq!((boost.school, boost.reversible), (School::Regulated, false));
    assert!(boost.efficiency < 1.0 && boost.heat_w.unwrap() > 0.0 && boost.parts.contains(&"converter"), "{boost:?}");
    let direct = find(&found, Chemistry::LiIon, 4, FeedPath::Direct);
    assert_eq!((direct.school, direct.efficiency, direct.heat_w), (School::Direct, 1.0, None));
    assert!(direct.loaded_full_v.unwrap() < direct.full_v && direct.parts.is_empty());
    let tool = find(&found, Chemistry::LiIon, 4, FeedPath::ToolPack);
    assert!(tool.reversible && tool.better_when.contains("tool packs") && tool.usable_share == direct.usable_share);
    let outside = find(&found, Chemistry::LiPo, 4, FeedPath::OutsidePack);
    assert!(outside.reversible && outside.worst == find(&found, Chemistry::LiPo, 4, FeedPath::Direct).worst);
    let switched = find(&found, Chemistry::LiIon, 2, FeedPath::Switched);
    assert_eq!(switched.worst, Some(Severity::Stop), "8.4 V full in parallel never run a device of 9 V");
    assert!(switched.reasons.iter().any(|r| r.text.contains("in parallel")), "{:?}", switched.reasons);
    assert!(found.iter().all(|o| !o.better_when.is_empty()));
}

/// A converter without a switch draws day and night: 0.1 W at 10.8 V are 9.26 mA, 5 Ah last 22.5 days.
#[test]
fn standby_is_told_in_days() {
    let none = json!({"state": "none"});
    let days = |changes: &[(&str, serde_json::Value)]| {
        let found = options(&with(&sound(), changes)).unwrap().options;
        find(&found, Chemistry::LiIon, 3, FeedPath::Boost).standby_days
    };
    let bare = days(&[("board", none.clone()), ("switch", none.clone())]).unwrap();
    assert!((bare - 5.0 / (0.1 / 10.8) / 24.0).abs() < 1e-6, "{bare}");
    assert!(days(&[("switch", none.clone())]).unwrap() < bare, "the board's drain comes on top");
    assert_eq!(days(&[("board", none)]), None, "behind an open switch nothing draws");
}
