//! Sellers' texts read: what is proposed, what is doubted, what is asked. The texts are made up, in the style of the trade.

use brick_core::parts::catalogue::ItemPart;
use brick_core::parts::listing::{Listing, SOLD, read_listing};
use brick_core::plan::fields::PartKind;
use proptest::prelude::*;
use serde_json::{Value, json};

/// The proposed part as JSON below its kind.
fn part(listing: &Listing) -> Value {
    let part = serde_json::to_value(listing.part.as_ref().expect("a part")).unwrap();
    let kind = part["kind"].as_str().unwrap().to_owned();
    part[kind.as_str()].clone()
}

fn doubt<'l>(listing: &'l Listing, about: &str) -> &'l str {
    let found = listing.doubts.iter().find(|d| d.about == about);
    &found.unwrap_or_else(|| panic!("no doubt about {about}: {:?}", listing.doubts)).why
}

#[test]
fn a_board_s_page_is_read_field_by_field() {
    let text = "4S lithium protection board with balance, common port
        Overcharge detection voltage: 4.28V±0.05V; over-charge release voltage 4.08 V
        Over discharge protection: 2.80 V ± 0.08 V
        Continuous working current 15 A, over current protection 40 A, delay 100 ms
        Balance current 60mA; quiescent current < 30 µA
        Charging current: max 8 A
        Internal resistance 8 mΩ
        Remove the load to recover. NTC temperature protection
        5.40 €, ships in 12 days";
    let listing = read_listing(text, None);
    assert_eq!(listing.sold, PartKind::Board);
    let p = &part(&listing)["protects"];
    for (at, value) in [
        ("series", json!(4)),
        ("chemistry", json!("li_ion")),
        ("over_charge_v", json!(4.28)),
        ("over_discharge_v", json!(2.8)),
        ("continuous_a", json!(15.0)),
        ("trip_delay_s", json!(0.1)),
        ("bleed_a", json!(0.06)),
        ("charge_a", json!(8.0)),
        ("path_ohm", json!(0.008)),
        ("port", json!("common")),
        ("resets", json!("load_off")),
        ("senses_temperature", json!(true)),
    ] {
        assert_eq!(p[at], value, "{at}: {:?}", listing.proposed);
    }
    assert_eq!(p["trip_a"]["value"], 40.0);
    let body = part(&listing);
    assert!((body["standby_a"].as_f64().unwrap() - 30e-6).abs() < 1e-12);
    assert_eq!((&body["offer"]["price"], &body["offer"]["arrives_days"]), (&json!(5.4), &json!(12.0)));
    assert_eq!(body["offer"]["name"], "4S lithium protection board with balance, common port");
    assert!(listing.doubts.is_empty(), "{:?}", listing.doubts);
    assert!(listing.unstated.is_empty(), "{:?}", listing.unstated);
}

/// Sellers name the larger current in the title: 60 A there, 20 A in the text.
#[test]
fn two_currents_are_a_contradiction_and_the_smaller_is_kept() {
    let listing = read_listing("3S 60A battery protection board, continuous discharge current 20 A", None);
    assert_eq!(part(&listing)["protects"]["continuous_a"], 20.0);
    assert!(doubt(&listing, "Continuous current").contains("60 A"), "{:?}", listing.doubts);
    let current = listing.proposed.iter().find(|p| p.at == "/protects/continuous_a").unwrap();
    assert!(!current.sure);
}

#[test]
fn a_bare_current_of_a_board_may_be_what_it_carries_or_where_it_trips() {
    let listing = read_listing("4S 30A BMS for 18650", None);
    assert!(doubt(&listing, "Continuous current").contains("trips"), "{:?}", listing.doubts);
    let asked: Vec<_> = listing.unstated.iter().map(|u| u.label).collect();
    assert!(asked.contains(&"Trip current") && asked.contains(&"Bleed current"), "{asked:?}");
}

#[test]
fn volts_of_another_count_or_chemistry_are_doubted() {
    // 12.6 V are 3 x 4.20 V.
    let listing = read_listing("4S protection board, lithium ion, charging voltage 12.6V", None);
    assert!(doubt(&listing, "Cells in series").contains("3 × 4.2 V"), "{:?}", listing.doubts);
    let listing = read_listing("4S LiFePO4 protection board, overcharge 4.25 V", None);
    assert!(doubt(&listing, "Chemistry").contains("4.25 V"), "{:?}", listing.doubts);
    let listing = read_listing("protection board 3S / 4S, over-discharge 2.5 V", None);
    assert!(doubt(&listing, "Cells in series").contains("3s and 4s"), "{:?}", listing.doubts);
}

/// Input or output? Nobody can tell from "1.2 A".
#[test]
fn the_rated_current_of_a_charge_module_has_two_sides() {
    let listing = read_listing("2S charging module, input 5 V USB, 1.2 A", None);
    assert_eq!(listing.sold, PartKind::Charger);
    assert!(doubt(&listing, "Charge current").contains("input or output"), "{:?}", listing.doubts);
    let body = part(&listing);
    assert_eq!(body["charges"]["output_a"], Value::Null, "what is not known is not filled in");
    // 2 x 4.20 V follows from the count, and is said to.
    assert_eq!(body["charges"]["output_v"], json!({"value": 8.4, "how": "stated", "error": null, "meter": null}));
    assert!(doubt(&listing, "End voltage").contains("2 × 4.2 V"));
    let sided = read_listing("2S charge module, output 8.4 V, charging current 1.2 A, input 5 V", None);
    assert_eq!(part(&sided)["charges"]["output_a"], 1.2);
    assert!(sided.doubts.is_empty(), "{:?}", sided.doubts);
}

#[test]
fn a_fuse_of_250_volts_has_no_dc_rating_and_a_blade_of_32_is_asked() {
    let glass = read_listing("Glass fuse 5x20 fast, 5A 250V", None);
    assert_eq!(part(&glass)["style"], "glass_fast");
    assert_eq!((&part(&glass)["rating_a"], &part(&glass)["dc_v"]), (&json!(5.0), &Value::Null));
    assert!(doubt(&glass, "DC voltage").contains("AC"), "{:?}", glass.doubts);
    let blade = read_listing("Blade fuse 15 A, 32 V, breaking capacity 1 kA", None);
    assert_eq!(part(&blade)["dc_v"], 32.0);
    assert_eq!(part(&blade)["breaking_a"], 1000.0);
    assert!(doubt(&blade, "DC voltage").contains("32 V"));
    let stated = read_listing("Blade fuse 15 A, 58 V DC", None);
    assert_eq!(part(&stated)["dc_v"], 58.0);
    assert!(stated.doubts.is_empty(), "{:?}", stated.doubts);
}

#[test]
fn a_converter_s_range_is_its_input_and_its_set_point_is_open() {
    let text = "DC-DC step-down converter, input 6-30 V, output 1.25-26 V, max 8 A, 200 W, efficiency 94%";
    let listing = read_listing(text, None);
    let c = &part(&listing)["converts"];
    assert_eq!((&c["topology"], &c["input_min_v"], &c["input_max_v"]), (&json!("buck"), &json!(6.0), &json!(30.0)));
    assert_eq!((&c["output_a"], &c["efficiency"]), (&json!(8.0), &json!(0.94)));
    assert!(doubt(&listing, "Output set-point").contains("1.25–26 V"), "{:?}", listing.doubts);
    assert!(doubt(&listing, "Output current").contains("input or output"));
}

#[test]
fn cut_off_boards_wires_and_plugs_are_read_too() {
    let cut_off =
        read_listing("Low voltage disconnect module: cut-off 15.5 V, recovery 17.5 V, self consumption 1 mA", None);
    let body = part(&cut_off);
    assert_eq!(body["cuts_off"], json!({"at_v": 15.5, "rearm_v": 17.5}));
    assert!((body["standby_a"].as_f64().unwrap() - 0.001).abs() < 1e-12);
    // 20 AWG bears 8 A in the open (common practice, no source), not 20.
    let wire = read_listing("20 AWG silicone wire, 20 A", None);
    assert_eq!(part(&wire)["size"], json!({"standard": "awg", "awg": 20}));
    assert!(doubt(&wire, "Current").contains("20 A"), "{:?}", wire.doubts);
    let plug = read_listing("Keyed plug, 30 A, peak 60 A, 60 V DC", None);
    assert_eq!((&part(&plug)["continuous_a"], &part(&plug)["keyed"]), (&json!(30.0), &json!(true)));
    assert_eq!(part(&plug)["dc_v"], 60.0);
    assert_eq!(part(&plug)["wall_socket"], Value::Null, "a plug’s page does not say whether a wall holds it");
    let jack = read_listing("Panel mount jack 5.5 mm, 5 A, 30 V DC", None);
    assert_eq!(part(&jack)["wall_socket"], true);
}

#[test]
fn a_part_without_a_figure_it_needs_is_not_proposed_but_its_gaps_are_told() {
    let listing = read_listing("fuse, very good", None);
    assert!(listing.part.is_none() && listing.unstated.iter().any(|u| u.label == "Rating"));
    for text in ["", "   \n ;;", "🙂", "9999999999999999999999 A", &"4S ".repeat(20_000)] {
        for sold in [None, Some(PartKind::Wire), Some(PartKind::Converter)] {
            let listing = read_listing(text, sold);
            if let Some(ItemPart::Module { module }) = listing.part {
                assert!(module.offer.name.chars().count() <= 120);
            }
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    /// Whatever is pasted: nothing panics, and a part that is proposed can stand in the catalogue or says why not.
    #[test]
    fn any_text_is_read_without_harm(text in "\\PC{0,200}", kind in 0usize..8) {
        let sold = SOLD.get(kind).copied();
        let listing = read_listing(&text, sold);
        for p in &listing.proposed {
            prop_assert!(!p.shown.is_empty() && !p.label.is_empty());
        }
        prop_assert!(listing.unstated.iter().all(|u| !u.test.is_empty()));
    }

    /// A current typed in any usual spelling is the same current.
    #[test]
    fn spelling_does_not_change_a_figure(tenths in 1u32..600) {
        let a = f64::from(tenths) / 10.0;
        let spelt = [
            format!("4S protection board, continuous current {a} A"),
            format!("4S protection board; continuous current: {}A", a.to_string().replace('.', ",")),
            format!("4S protection board\ncontinuous current = {a}amps"),
            format!("4S protection board | {a} A continuous current"),
            format!("4S protection board, CONTINUOUS CURRENT {} mA", tenths * 100),
        ];
        for text in spelt {
            let body = part(&read_listing(&text, None));
            let read = body["protects"]["continuous_a"].as_f64();
            prop_assert!(read.is_some_and(|r| (r - a).abs() < 1e-9), "{text}: {read:?}");
        }
    }

    /// Saying the same twice is no contradiction; saying two things is one, whichever comes first.
    #[test]
    fn only_what_differs_is_a_contradiction(first in 5u32..50, second in 5u32..50) {
        let text = |a: u32, b: u32| format!("3S battery protection board, continuous current {a} A, working current {b} A, trip current 90 A");
        let doubts = |a, b| read_listing(&text(a, b), None).doubts.iter().filter(|d| d.about == "Continuous current").count();
        prop_assert_eq!(doubts(first, first), 0);
        prop_assert_eq!(doubts(first, second), usize::from(first != second));
        let kept = |a, b| part(&read_listing(&text(a, b), None))["protects"]["continuous_a"].as_f64();
        prop_assert_eq!(kept(first, second), kept(second, first));
        prop_assert_eq!(kept(first, second), Some(f64::from(first.min(second))));
    }
}

/// A seller's words for a hobby pack: counts, capacity and C rating are taken from them, and what follows is the maker's.
#[test]
fn a_ready_pack_is_read_off_its_listing() {
    let text = "LiPo battery pack 3S 11.1 V, 2200 mAh, 25C discharge, with balance plug";
    let listing = read_listing(text, None);
    let Some(ItemPart::Pack { pack }) = listing.part else { panic!("{listing:?}") };
    assert_eq!((pack.series, pack.capacity_ah, pack.c_rating), (3, 2.2, Some(25.0)));
    assert_eq!((pack.chemistry, pack.taps), (brick_core::base::chemistry::Chemistry::LiPo, Some(true)));
    assert_eq!(pack.guarded, None, "nothing is said of protection");
}
