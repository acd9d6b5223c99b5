//! Packs that are taken as a whole, charging added to one that stays, and one module at several places.

use crate::common;

use brick_core::advise::bill;
use brick_core::advise::suggest::suggest;
use brick_core::assess::{Assessment, Severity, StartsAt, WhatIf, assess, runs};
use brick_core::build::sheet;
use brick_core::physics::device::jobs::template;
use brick_core::plan::{Change, Job, apply};
use brick_core::{Catalogue, Plan};
use common::{board, charger, chosen, known, module, offer, sound, with};
use serde_json::{Value, json};

/// A made-up hobby pack: three in series, 2.2 Ah, 20 C on its label.
fn hobby() -> Value {
    let mut offer = offer("3S 2.2 Ah hobby pack");
    (offer["mass_g"], offer["price"]) = (json!(182.0), json!(24.0));
    json!({"offer": offer, "kind": "hobby", "chemistry": "li_po", "series": 3, "capacity_ah": 2.2, "c_rating": 20.0,
        "length_mm": 106.0, "width_mm": 34.0, "height_mm": 24.0, "taps": true})
}

fn taken(mut pack: Value, more: &[(&str, Value)]) -> Value {
    for (field, value) in more {
        pack[field] = value.clone();
    }
    json!({"state": "chosen", "part": pack})
}

/// The sound blower on a hobby pack outside, guarded by a cut-off.
fn on_a_hobby_pack(more: &[(&str, Value)]) -> Plan {
    with(
        &sound(),
        &[
            ("packs/0/ready", taken(hobby(), more)),
            ("packs/0/cell", json!({"state": "open"})),
            ("packs/0/strip", json!({"state": "open"})),
            ("board", json!({"state": "none"})),
            ("device/highest_v", known(13.5)),
            ("device/lowest_v", known(8.0)),
            ("cutoff", module("cut-off", json!({"cuts_off": {"at_v": 9.9, "rearm_v": 11.5}}))),
            ("charger", charger(12.6, 2.0)),
        ],
    )
}

fn assessed(plan: &Plan) -> Assessment {
    assess(plan).unwrap_or_else(|e| panic!("{e:?}"))
}

fn stops(plan: &Plan) -> Vec<String> {
    let found = assessed(plan).findings.into_iter();
    found.filter(|f| f.severity == Severity::Stop).map(|f| f.key).collect()
}

fn severity(plan: &Plan, key: &str) -> Option<Severity> {
    assessed(plan).findings.into_iter().find(|f| f.key == key).map(|f| f.severity)
}

fn value(assessment: &Assessment, id: &str) -> f64 {
    assessment.figure(id).unwrap_or_else(|| panic!("{id}")).value
}

/// By hand: 20 C of 2.2 Ah are 44 A, and half a hobby label counts for good (common practice, no source).
#[test]
fn a_ready_pack_is_judged_by_its_own_label() {
    let plan = on_a_hobby_pack(&[]);
    let a = assessed(&plan);
    assert_eq!((plan.packs[0].series, plan.packs[0].parallel), (Some(3), Some(1)));
    assert!((value(&a, "pack.full_v") - 12.6).abs() < 1e-9 && value(&a, "pack.ah") == 2.2);
    assert!((value(&a, "cells.limit_a") - 22.0).abs() < 1e-9);
    assert_eq!((value(&a, "pack.mass_g"), value(&a, "pack.cost")), (182.0, 24.0));
    assert!(a.figure("strip.limit_a").is_none() && a.figure("cells.proposed").is_none());
    // What a discharge gave outranks the label, and stated amperes are no hobby label.
    let tested = assessed(&on_a_hobby_pack(&[
        ("counted_ah", json!(1.9)),
        ("continuous_a", json!(30.0)),
        ("resistance_ohm", known(0.03)),
    ]));
    assert_eq!((value(&tested, "pack.ah"), value(&tested, "cells.limit_a")), (1.9, 30.0));
    assert!((value(&tested, "pack.ohm") - 0.03).abs() < 1e-12);
    let working = tested.figures.iter().find(|f| f.id == "pack.ah").unwrap();
    assert!(format!("{working:?}").contains("/packs/0/ready/part/counted_ah"), "{working:?}");
}

#[test]
fn nothing_is_asked_of_it_that_it_does_not_have() {
    let a = assessed(&on_a_hobby_pack(&[]));
    let asked: Vec<&str> = a.stages.iter().flat_map(|s| &s.to_find_out).map(|q| q.what.as_str()).collect();
    assert!(asked.iter().any(|q| q.starts_with("Whether it has protection inside")), "{asked:?}");
    assert!(!asked.iter().any(|q| q.contains("data sheet") && q.contains("cell")), "{asked:?}");
    let bill = bill::bill(&on_a_hobby_pack(&[]), &Catalogue::default()).unwrap();
    let names: Vec<(&str, f64)> = bill.lines.iter().map(|l| (l.name.as_str(), l.count)).collect();
    assert!(names.contains(&("3S 2.2 Ah hobby pack", 1.0)), "{names:?}");
    assert!(!names.iter().any(|(name, _)| name.contains("strip")), "{names:?}");
    let sheet = sheet(&on_a_hobby_pack(&[]), &[]).unwrap();
    let keys: Vec<&str> = sheet.steps.iter().map(|s| s.key.as_str()).collect();
    assert!(
        keys.contains(&"cells/look") && !keys.iter().any(|k| k.contains("weld") || *k == "board/minus"),
        "{keys:?}"
    );
}

/// A pack guards itself only where that is known; where it opens then counts like any guard.
#[test]
fn who_ends_the_discharge_of_a_ready_pack() {
    let bare = |more: &[(&str, Value)]| with(&on_a_hobby_pack(more), &[("cutoff", json!({"state": "none"}))]);
    let unguarded = with(&bare(&[]), &[("device/cutout_v", json!(null))]);
    assert_eq!(severity(&unguarded, "voltage.no-guard"), Some(Severity::Stop));
    let own = with(&bare(&[("guarded", json!(true)), ("guard_v", json!(9.0))]), &[("device/cutout_v", json!(null))]);
    assert_eq!(severity(&own, "voltage.no-guard"), None);
    assert_eq!(value(&assessed(&own), "guard.pack_v"), 9.0);
    let deep = with(&bare(&[("guarded", json!(true)), ("guard_v", json!(6.0))]), &[("device/cutout_v", json!(null))]);
    assert_eq!(severity(&deep, "voltage.guard-below-floor"), Some(Severity::Stop), "6 V on three is 2 V a cell");
}

#[test]
fn a_pack_without_a_balance_plug_is_seen_by_no_board() {
    let blind = with(&on_a_hobby_pack(&[("taps", json!(false))]), &[("board", board(3))]);
    assert!(stops(&blind).contains(&"protection.no-taps".to_owned()));
    let seen = with(&on_a_hobby_pack(&[]), &[("board", board(3))]);
    assert!(!stops(&seen).contains(&"protection.no-taps".to_owned()));
}

#[test]
fn it_goes_into_its_place_or_sits_outside() {
    let place = |length_mm: f64| {
        json!([{"id": "bay", "name": "bay",
            "space": {"shape": "box", "length_mm": 26.0, "width_mm": length_mm, "depth_mm": 36.0}}])
    };
    let in_place = |length_mm| with(&on_a_hobby_pack(&[]), &[("device/compartments", place(length_mm))]);
    let key = "brick.pack-too-large".to_owned();
    assert!(!stops(&in_place(107.0)).contains(&key), "turned, it goes in");
    assert!(stops(&in_place(105.0)).contains(&key), "a millimetre too long");
    let outside = with(&in_place(105.0), &[("feed/outside", json!("plug"))]);
    assert!(!stops(&outside).contains(&key));
}

/// The removable pack of a handheld stays: a jack, a fuse and a board are added on the charge side, by three wires.
fn charging_added(more: &[(&str, Value)]) -> Plan {
    let mut blank = template(Job::ChargingAdded, "Survey level");
    let kept = json!({"offer": offer("pack of the level"), "kind": "kept", "chemistry": "li_ion", "series": 2,
        "capacity_ah": 2.6, "taps": true});
    let fuse = chosen("fuse", json!({"offer": offer("3 A blade"), "style": "blade", "rating_a": 3.0, "dc_v": 32.0}));
    let place = blank.nodes.iter().position(|n| n.id == "charge-fuse").unwrap();
    blank = apply(&blank, &[Change::put(format!("/nodes/{place}/part"), fuse)]).unwrap();
    let jack = json!({"offer": offer("jack"), "continuous_a": 3.0, "dc_v": 24.0, "wall_socket": true});
    let entered = [
        ("packs/0/ready", json!({"state": "chosen", "part": kept})),
        ("device/highest_v", json!({"value": 8.4, "how": "stated"})),
        ("board", board(2)),
        ("jack", chosen("connector", jack)),
        ("charger", charger(8.4, 1.0)),
    ];
    with(&with(&blank, &entered), more)
}

#[test]
fn charging_is_added_to_a_pack_that_stays() {
    let plan = charging_added(&[]);
    let a = assessed(&plan);
    assert_eq!(stops(&plan), Vec::<String>::new());
    // The board sees the charge only, and that is known; what the pack has inside is not.
    assert_eq!(severity(&plan, "protection.charge-side-only"), Some(Severity::Caution));
    assert_eq!(severity(&plan, "voltage.no-guard"), Some(Severity::Caution));
    assert_eq!(severity(&plan, "protection.no-over-current"), Some(Severity::Caution));
    let asked: Vec<&str> = a.stages.iter().flat_map(|s| &s.to_find_out).map(|q| q.what.as_str()).collect();
    assert!(!asked.iter().any(|q| q.starts_with("A fuse where the charge leads")), "there is one: {asked:?}");
    // A full pack that equals what the device is said to bear passes.
    assert_eq!(severity(&plan, "voltage.full-above-device"), None);
    // What stays is not bought.
    let bill = bill::bill(&plan, &Catalogue::default()).unwrap();
    assert!(bill.lines.iter().all(|l| l.name != "pack of the level"));
    // Said to have nothing inside, it is a stop as for any pack.
    let bare = json!({"offer": offer("pack of the level"), "kind": "kept", "chemistry": "li_ion", "series": 2,
        "capacity_ah": 2.6, "guarded": false});
    let bare = charging_added(&[("packs/0/ready", json!({"state": "chosen", "part": bare}))]);
    assert_eq!(severity(&bare, "voltage.no-guard"), Some(Severity::Stop));
}

/// A 3 A blade carries 2.25 A for good at 25 C (ISO 8820-3: 75 % of the rating).
#[test]
fn the_fuse_in_the_charge_lead_is_judged_by_the_charge() {
    let plan = |fuse: Value, charge_a: f64| {
        let plan = charging_added(&[("charger", charger(8.4, charge_a))]);
        let place = plan.nodes.iter().position(|n| n.id == "charge-fuse").unwrap();
        apply(&plan, &[Change::put(format!("/nodes/{place}/part"), chosen("fuse", fuse))]).unwrap()
    };
    let blade = |rating_a: f64, dc_v: Value| json!({"offer": offer("blade"), "style": "blade", "rating_a": rating_a, "dc_v": dc_v});
    let small = "charging.fuse-small@charge-fuse".to_owned();
    let volts = "charging.fuse-volts@charge-fuse".to_owned();
    assert!(stops(&plan(blade(1.0, json!(32.0)), 1.3)).contains(&small));
    assert!(!stops(&plan(blade(3.0, json!(32.0)), 1.3)).contains(&small));
    assert!(stops(&plan(blade(3.0, json!(6.0)), 1.3)).contains(&volts));
    assert!(stops(&plan(blade(3.0, json!(null)), 1.3)).contains(&volts));
}

/// One module that guards, charges and steps up for one cell.
fn bank_module() -> Value {
    json!({"offer": {"name": "power-bank controller", "price": 4.0, "mass_g": 12.0, "catalogue_id": "bank", "arrives_days": null},
        "protects": {"series": 1, "over_charge_v": 4.28, "over_discharge_v": 2.9, "continuous_a": 6.0},
        "charges": {"kind": "cc_cv", "output_v": known(4.2), "output_a": 2.0, "own_supply": false},
        "converts": {"topology": "boost", "output_v": 5.0, "wired_in": false, "efficiency": 0.9, "output_a": 2.4},
        "standby_a": 0.000_1})
}

#[test]
fn one_module_at_several_places_is_taken_counted_and_drained_once() {
    let catalogue = json!({"items": [{"id": "bank", "part": {"kind": "module", "module": bank_module()}}]});
    let catalogue = Catalogue::from_json(&catalogue.to_string()).unwrap();
    let blank = with(
        &template(Job::PowerBank, "Cells for the road"),
        &[("packs/0/series", json!(1)), ("packs/0/parallel", json!(4)), ("packs/0/chemistry", json!("li_ion"))],
    );
    let offered = suggest(&blank, &catalogue, "board").unwrap();
    let plan = apply(&blank, &offered[0].changes).unwrap();
    let part_of = |plan: &Plan, id: &str| plan.node(id).unwrap().module().map(|m| m.offer.name.clone());
    for place in ["board", "charger", "converter"] {
        assert_eq!(part_of(&plan, place).as_deref(), Some("power-bank controller"), "{place}");
    }
    let bill = bill::bill(&plan, &catalogue).unwrap();
    let line = bill.lines.iter().find(|l| l.name == "power-bank controller").unwrap();
    assert_eq!(line.count, 1.0);
    assert!((value(&assessed(&plan), "pack.standby_a") - 0.000_1).abs() < 1e-12);
    // A figure that is changed at one place is changed at all: it stands once.
    let at = format!(
        "/nodes/{}/part/part/module/protects/continuous_a",
        plan.nodes.iter().position(|n| n.id == "board").unwrap()
    );
    let changed = apply(&plan, &[Change::put(at, 5.0)]).unwrap();
    for place in ["board", "charger", "converter"] {
        let module = changed.node(place).unwrap().module().unwrap();
        assert_eq!(module.protects.as_ref().unwrap().continuous_a, Some(5.0), "{place}");
    }
    // Another board only: what the first one did elsewhere is open again.
    let other = json!({"items": [{"id": "bare", "part": {"kind": "module", "module": {"offer": offer("1S board"),
        "protects": {"series": 1, "continuous_a": 5.0}}}}]});
    let other = suggest(&plan, &Catalogue::from_json(&other.to_string()).unwrap(), "board").unwrap();
    let exchanged = apply(&plan, &other[0].changes).unwrap();
    assert_eq!(part_of(&exchanged, "board").as_deref(), Some("1S board"));
    assert_eq!((part_of(&exchanged, "charger"), part_of(&exchanged, "converter")), (None, None));
}

#[test]
fn what_follows_is_taken_over_and_told() {
    // A file that says other counts beside a ready pack has those of the pack.
    let plan = with(&on_a_hobby_pack(&[]), &[("packs/0/series", json!(7)), ("packs/0/parallel", json!(2))]);
    assert_eq!((plan.packs[0].series, plan.packs[0].parallel), (Some(3), Some(1)));
    let follows = assessed(&plan).follows;
    assert!(follows.iter().any(|c| c.at == "/packs/0/series" && c.value == json!(3)), "{follows:?}");
    assert!(assessed(&sound()).follows.is_empty());
    // Read and written, it is the same.
    let text = plan.to_json().unwrap();
    assert_eq!(Plan::from_json(&text).unwrap(), plan);
    // A place that is served by nothing is told by name.
    let board = plan.nodes.iter().position(|n| n.id == "board").unwrap();
    for nowhere in ["nobody", "board"] {
        let astray = apply(&plan, &[Change::put(format!("/nodes/{board}/with"), nowhere)]).unwrap();
        let errors = astray.check().unwrap_err();
        assert!(errors.iter().any(|e| e.field == format!("/nodes/{board}/with")), "{errors:?}");
    }
    // Left again, the pack is built of cells.
    let left = with(&plan, &[("packs/0/ready", json!({"state": "open"})), ("packs/0/parallel", json!(2))]);
    assert_eq!((left.packs[0].parallel, left.packs[0].cell().is_none()), (Some(2), true));
}

/// One to four replaceable cells behind a step-up converter: safe with one, with four, with one reversed. By hand: 12 W over 3.0 V × 88 % are
/// 4.5 A from one cell; four cells of 18 milliohm with contacts of 0.1 ohm drive 8.4 V / (0.118 × 4 / 3) = 53.4 A through one that is reversed.
#[test]
fn replaceable_cells_are_judged_with_few_with_one_reversed_and_with_one_empty() {
    let lamp = |holder: Value| {
        let step_up = json!({"converts": {"topology": "boost", "output_v": 12.0, "wired_in": false, "efficiency": 0.88,
            "input_min_v": 2.5, "output_a": 2.0}});
        with(
            &Plan::blank("Reading lamp"),
            &[
                ("device/highest_v", known(14.0)),
                ("device/lowest_v", known(9.0)),
                ("device/loads", json!([{"id": "on", "name": "on", "draw": {"as": "power", "value_w": known(12.0)}}])),
                ("packs/0/chemistry", json!("li_ion")),
                ("packs/0/series", json!(1)),
                ("packs/0/parallel", json!(4)),
                ("packs/0/cell", json!({"state": "chosen", "part": common::cell()})),
                ("board", board(1)),
                ("converter", module("step-up", step_up)),
                ("feed/holder", holder),
            ],
        )
    };
    let held = |more: &[(&str, Value)]| {
        let mut holder = json!({"fewest": 1, "contact_ohm": 0.1});
        more.iter().for_each(|(field, value)| holder[field] = value.clone());
        lamp(holder)
    };
    let a = assessed(&held(&[]));
    assert!((value(&a, "holder.reversed_a") - 8.4 / (0.118 * 4.0 / 3.0)).abs() < 1e-6);
    assert!(value(&a, "holder.each_a") > 4.5);
    // What nobody said is a caution that names it; nothing there is a stop; a diode or a fuse that opens is neither.
    let reversed = |more: &[(&str, Value)]| severity(&held(more), "cells.holder-reversed");
    assert_eq!(reversed(&[]), Some(Severity::Caution));
    assert_eq!(reversed(&[("each", json!("nothing"))]), Some(Severity::Stop));
    assert_eq!(reversed(&[("each", json!("ideal_diode"))]), None);
    assert_eq!(reversed(&[("each", json!("fuse")), ("each_a", json!(7.5))]), None);
    assert_eq!(reversed(&[("each", json!("fuse")), ("each_a", json!(30.0))]), Some(Severity::Stop));
    assert_eq!(reversed(&[("each", json!("fuse"))]), Some(Severity::Caution));
    // One cell alone carries everything.
    let few = |more: &[(&str, Value)]| severity(&held(more), "cells.holder-few");
    assert_eq!(few(&[("contact_a", json!(3.0))]), Some(Severity::Stop));
    assert_eq!(few(&[("contact_a", json!(3.0)), ("fewest", json!(2))]), None);
    // Holders and what stands before each cell are on the parts list, one for each.
    let bill = bill::bill(&held(&[("each", json!("ideal_diode"))]), &Catalogue::default()).unwrap();
    for name in ["cell holder", "ideal diode of one cell"] {
        assert_eq!(bill.lines.iter().find(|l| l.name == name).map(|l| l.count), Some(4.0), "{name}");
    }
    // More must be asked for than there are holders: refused by name.
    let errors = held(&[("fewest", json!(5))]).check().unwrap_err();
    assert!(errors.iter().any(|e| e.field == "/feed/holder/fewest" && e.message.contains("4 holders")), "{errors:?}");
}

fn pads(plan: &Plan, node: &str) -> Vec<(String, String, Option<f64>)> {
    let things = assessed(plan).things;
    let thing = things.into_iter().find(|t| t.node == node).unwrap_or_else(|| panic!("no {node}"));
    thing.pads.into_iter().map(|p| (p.name, p.to, p.rest_v)).collect()
}

/// The three wires of a board on the charge side of two cells, with what each reads before it is soldered; as read where the groups were.
#[test]
fn the_wires_of_a_board_are_named_with_what_they_read() {
    let kept = json!({"state": "chosen", "part": {"offer": {"name": "its own pack"}, "kind": "kept", "chemistry": "li_ion",
        "series": 2, "capacity_ah": 2.6}});
    let plan = with(&template(Job::ChargingAdded, "Level"), &[("packs/0/ready", kept), ("board", board(2))]);
    let wires = pads(&plan, "board");
    let to: Vec<(&str, &str)> = wires.iter().map(|(name, to, _)| (name.as_str(), to.as_str())).collect();
    assert_eq!(to[..3], [("B−", "pack minus"), ("B1", "between group 1 and 2"), ("B+", "pack plus")]);
    assert!(to[3].1.contains("the load stays on pack minus"), "{to:?}");
    let volts: Vec<f64> = wires[..3].iter().filter_map(|w| w.2).collect();
    assert!((volts[1] * 2.0 - volts[2]).abs() < 1e-9 && volts[0] == 0.0, "{volts:?}");
    let read = with(&plan, &[("packs/0/group_v", json!([known(4.05), known(4.11)]))]);
    assert_eq!(pads(&read, "board")[..3].iter().filter_map(|w| w.2).collect::<Vec<_>>(), [0.0, 4.05, 8.16]);
}

/// A charge-and-protect module is one thing with all of its pads, and is not drawn a second time at the charger.
#[test]
fn one_module_at_two_places_has_its_pads_once() {
    let both = module(
        "charge-and-protect",
        json!({
        "protects": {"series": 1, "over_discharge_v": 2.5, "continuous_a": 3.0},
        "charges": {"kind": "cc_cv", "output_v": known(4.2), "output_a": 1.0, "own_supply": false}}),
    );
    let plan = with(&sound(), &[("packs/0/series", json!(1)), ("board", both), ("charger", json!({"state": "open"}))]);
    let names: Vec<String> = pads(&plan, "board").into_iter().map(|(name, ..)| name).collect();
    assert_eq!(names, ["IN−", "IN+", "B−", "B+", "OUT−", "OUT+"]);
    assert_eq!(assessed(&plan).things.iter().filter(|t| t.name == "charge-and-protect").count(), 1);
}

/// One pack or the other: the second, taken from the packs that are bought ready, decides its own counts, is judged and run by itself, and
/// stands on the parts list.
#[test]
fn either_of_two_packs_alone_is_judged_and_run() {
    let second = |pack: Value| json!({"used_alone": true, "ready": taken(pack, &[("guarded", json!(true)), ("guard_v", json!(10.5))])});
    let mut four = hobby();
    (four["offer"], four["series"], four["capacity_ah"]) = (offer("4S 1.5 Ah hobby pack"), json!(4), json!(1.5));
    let alike = with(&on_a_hobby_pack(&[]), &[("feed", json!({"second": second(hobby())}))]);
    let larger = with(&on_a_hobby_pack(&[]), &[("feed", json!({"second": second(four)}))]);
    assert_eq!(alike.feed.second.as_ref().and_then(|s| s.series), Some(3));
    assert_eq!(larger.feed.second.as_ref().and_then(|s| s.capacity_ah), Some(1.5));
    // Four in series are 16.8 V full, above the 13.5 V of the device; three are not, in either pack.
    let too_high = |plan: &Plan| {
        let found = assessed(plan).findings;
        found.into_iter().filter(|f| f.key.starts_with("voltage.full-above-device")).map(|f| f.key).collect::<Vec<_>>()
    };
    assert_eq!(too_high(&alike), Vec::<String>::new());
    assert_eq!(too_high(&larger), ["voltage.full-above-device+second pack alone"]);
    assert_eq!(assessed(&alike).nameplate.positions.as_deref(), Some("two packs: one at a time"));
    // The same charge at the same voltage runs as long; 1.5 Ah less so, in the second position only.
    let times = |plan: &Plan| -> Vec<(&'static str, f64)> {
        let report = runs(plan, &[WhatIf::default()], StartsAt::Full, None).unwrap();
        report.by_position.iter().map(|p| (p.position, p.run.map_or(0.0, |r| r.time_s))).collect()
    };
    let (even, uneven) = (times(&alike), times(&larger));
    assert_eq!(even.iter().map(|t| t.0).collect::<Vec<_>>(), ["first pack alone", "second pack alone"]);
    assert!((even[0].1 / even[1].1 - 1.0).abs() < 0.02, "{even:?}");
    assert_eq!(uneven[0], even[0]);
    let bill = bill::bill(&larger, &Catalogue::default()).unwrap();
    assert_eq!(
        bill.lines.iter().filter(|l| l.places.iter().any(|p| p == "second pack")).map(|l| l.count).sum::<f64>(),
        1.0
    );
}

/// In series and in parallel the run is told for both: twice the volts at the same current and half the current at the same volts last
/// the same time where the load is a power.
#[test]
fn the_run_is_told_in_both_positions() {
    let plan = with(
        &sound(),
        &[
            (
                "device/loads",
                json!([{"id": "usual", "name": "usual", "draw": {"as": "power", "value_w": known(40.0)}}]),
            ),
            ("feed", json!({"second": {"used_in_series": true, "used_in_parallel": true, "each_guarded": true}})),
        ],
    );
    let report = runs(&plan, &[WhatIf::default()], StartsAt::Full, None).unwrap();
    let [series, parallel] = &report.by_position[..] else { panic!("{:?}", report.by_position) };
    let (series_s, parallel_s) = (series.run.unwrap().time_s, parallel.run.unwrap().time_s);
    assert!((series_s / parallel_s - 1.0).abs() < 0.15, "{series_s} s, {parallel_s} s");
    // One pack alone has no positions to tell.
    assert!(runs(&sound(), &[WhatIf::default()], StartsAt::Full, None).unwrap().by_position.is_empty());
}

/// A tool pack that comes with its charger: that is the first one offered for the place, to be read before it is trusted, and none once
/// it is said to come without. The plug that the pack has is a link of the path like any other.
#[test]
fn a_pack_brings_its_charger_and_its_plug() {
    let tool = |more: &[(&str, Value)]| {
        let mut pack = hobby();
        (pack["kind"], pack["guarded"]) = (json!("tool"), json!(true));
        with(&sound(), &[("packs/0/ready", taken(pack, more))])
    };
    let own = |plan: &Plan| {
        let offered = suggest(plan, &Catalogue::default(), "charger").unwrap();
        offered.into_iter().next().map(|first| (first.offer.name, first.changes))
    };
    let (name, changes) = own(&tool(&[("own_charger", json!(true))])).expect("it comes with one");
    assert_eq!(name, "charger of “3S 2.2 Ah hobby pack”");
    let charged = apply(&tool(&[("own_charger", json!(true))]), &changes).unwrap();
    // Three cells of 4.2 V, from the chemistry and so assumed.
    let figure = assess(&charged).unwrap().figure("charger.output_v").cloned().expect("its voltage");
    assert!((figure.value - 12.6).abs() < 1e-9 && figure.assumed, "{figure:?}");
    assert!(own(&tool(&[("own_charger", json!(false))])).is_none());

    let link = |a: f64| {
        let path = assess(&tool(&[("plug_a", json!(a))])).unwrap().path;
        path.links.into_iter().find(|l| l.id == "pack-plug").expect("its plug is a link")
    };
    let (wide, narrow) = (link(60.0), link(30.0));
    assert_eq!((wide.continuous_a, narrow.continuous_a), (Some(60.0), Some(30.0)));
    assert!((narrow.used.unwrap() / wide.used.unwrap() - 2.0).abs() < 1e-9);
}
