//! What is connected beside the device, outputs that are turned, coils, old labels, walls and gauges as they are found.

use crate::common;

use brick_core::Plan;
use brick_core::advise::fix::fixes;
use brick_core::assess::{Assessment, OutputLimit, StartsAt, WhatIf, assess, runs};
use brick_core::build::sheet;
use brick_core::plan::apply;
use brick_core::print::diagram::{Condition, Held, Shown, diagram};
use common::{catalogue, chosen, known, module, offer, sound, with};
use serde_json::{Value, json};

fn assessed(plan: &Plan) -> Assessment {
    assess(plan).unwrap_or_else(|e| panic!("{e:?}"))
}

fn value(plan: &Plan, id: &str) -> f64 {
    assessed(plan).figure(id).unwrap_or_else(|| panic!("no {id}")).value
}

fn has(plan: &Plan, key: &str) -> bool {
    assessed(plan).findings.iter().any(|f| f.key == key)
}

fn time_s(plan: &Plan) -> f64 {
    runs(plan, &[WhatIf::default()], StartsAt::Full, None).unwrap().runs[0].time_s
}

fn consumer(id: &str, draw: Value, more: &[(&str, Value)]) -> Value {
    let mut made = json!({"id": id, "name": id, "draw": draw});
    for (field, value) in more {
        made[field] = value.clone();
    }
    made
}

fn amps(a: f64) -> Value {
    json!({"as": "current", "value_a": known(a)})
}

/// By hand: 0.5 A at 5 V through 80 % are 3.125 W, 0.26 A at the 12 V where the plan cuts off; with 0.3 A direct that is 0.56 A more on
/// every level, for wire, fuse and run alike.
#[test]
fn what_draws_beside_the_device_is_added_everywhere() {
    let alone = sound();
    let plan = with(
        &alone,
        &[(
            "feed/beside",
            json!([
                consumer("fan", amps(0.3), &[]),
                consumer("socket", amps(0.5), &[("own_v", json!(5.0)), ("efficiency", json!(0.8))]),
            ]),
        )],
    );
    let low_v = value(&plan, "pack.cutoff_v");
    let beside_a = 0.3 + 3.125 / low_v;
    assert!((value(&plan, "load.beside_a") - beside_a).abs() < 1e-9);
    for id in ["load.usual_a", "load.continuous_a", "load.peak_a"] {
        assert!((value(&plan, id) - value(&alone, id) - beside_a).abs() < 1e-9, "{id}");
    }
    // In the simulation it is the power that stays, so that it takes less at higher volts.
    let (with_s, without_s) = (time_s(&plan), time_s(&alone));
    let usual_a = value(&alone, "load.usual_a");
    let share = with_s / without_s;
    let (least, most) = (usual_a / (usual_a + beside_a) * 0.98, usual_a / (usual_a + 0.3));
    assert!(share > least && share < most, "{share} between {least} and {most}");
    // Drawn day and night it empties the pack on the shelf.
    let always = with(&plan, &[("feed/beside/0/always", json!(true))]);
    let drain = |plan: &Plan| assessed(plan).figure("pack.standby_a").map_or(0.0, |f| f.value);
    assert!((drain(&always) - drain(&plan) - 0.3).abs() < 1e-9);
}

/// Behind a converter a consumer on its output takes its power over the efficiency, one on the battery does not; the wires behind carry
/// the first only.
#[test]
fn the_side_of_a_converter_decides_what_flows_where() {
    let buck = json!({"topology": "buck", "output_v": 9.0, "wired_in": true, "efficiency": 0.9, "output_a": 20.0});
    let plan = |fed: &str| {
        with(
            &sound(),
            &[
                ("converter", module("step-down", json!({"converts": buck}))),
                ("device/lowest_v", known(6.0)),
                ("device/highest_v", known(9.5)),
                ("feed/beside", json!([consumer("lamp", amps(1.0), &[("fed", json!(fed))])])),
            ],
        )
    };
    let (before, behind) = (plan("battery"), plan("output"));
    let low_v = value(&before, "pack.cutoff_v");
    assert!((value(&before, "load.beside_a") - 1.0).abs() < 1e-9);
    assert!((value(&behind, "load.beside_a") - 9.0 / (0.9 * low_v)).abs() < 1e-9);
    let output_a = |plan: &Plan| value(plan, "output.continuous_a");
    assert!((output_a(&behind) - output_a(&before) - 1.0).abs() < 1e-9);
}

/// A contactor's coil and a relay's are held by the battery as long as the device runs.
#[test]
fn coils_that_the_battery_holds_are_counted() {
    let contactor =
        chosen("switch", json!({"offer": offer("contactor"), "continuous_a": 40.0, "dc_v": 60.0, "coil_a": 0.25}));
    let plan = with(&sound(), &[("switch", contactor), ("feed/change_over", json!({"by": "relay", "coil_a": 0.08}))]);
    assert!((value(&plan, "load.beside_a") - 0.33).abs() < 1e-9);
    assert!((value(&plan, "load.usual_a") - value(&sound(), "load.usual_a") - 0.33).abs() < 1e-9);
}

fn bench_supply(more: &[(&str, Value)]) -> Plan {
    let mut converts = json!({"topology": "buck_boost", "output_v": 5.0, "wired_in": false, "efficiency": 0.9, "output_a": 3.0,
        "input_a": 5.0, "adjustable": true, "output_min_v": 3.0, "output_max_v": 12.0, "reference_v": 1.25,
        "feedback_ohm": 1000.0, "adjuster_ohm": 10_000.0, "adjuster_on_leads": true});
    for (field, value) in more {
        converts[field] = value.clone();
    }
    with(
        &sound(),
        &[
            ("converter", module("buck-boost", json!({"converts": converts}))),
            ("device/loads", json!([{"id": "usual", "name": "usual", "draw": amps(1.0)}])),
            ("device/highest_v", known(14.0)),
            ("device/lowest_v", known(2.5)),
            ("device/cutout_v", Value::Null),
        ],
    )
}

/// The end resistors are those of the worked example in `adjuster`; an open lead gives more than the device is limited to, and the finding names that voltage.
#[test]
fn the_ends_of_an_adjuster_are_calculated_and_judged() {
    let plan = bench_supply(&[]);
    assert_eq!(value(&plan, "adjuster.series_ohm"), 1500.0);
    assert_eq!(value(&plan, "adjuster.across_ohm"), 24_000.0);
    assert!((value(&plan, "adjuster.open_v") - 33.125).abs() < 1e-9);
    let finding = |plan: &Plan| assessed(plan).findings.into_iter().find(|f| f.rule.id() == "voltage.adjuster-open");
    assert!(finding(&plan).unwrap().why.text.contains("33.13 V"), "{:?}", finding(&plan));
    // End resistors alone do not do here: 33 V is more than the device is limited to.
    let clamped = bench_supply(&[("adjuster_clamped", json!(true))]);
    assert_eq!(finding(&clamped).unwrap().key, "voltage.adjuster-open@ends");
    // An adjuster that hardly turns further than is wanted leaves little when it opens.
    let small = bench_supply(&[("adjuster_clamped", json!(true)), ("adjuster_ohm", json!(50_000.0))]);
    assert!(finding(&small).is_none(), "{:?}", finding(&small));
}

/// By hand at 12 V: output 3 A; input 5 A × 16.8 V × 0.9 / 12 V = 6.3 A full. At the cut-off of 12 V the input gives 4.5 A. At 30 V it
/// would be the input.
#[test]
fn the_map_of_an_adjustable_output_says_what_limits_it() {
    let map = assessed(&bench_supply(&[])).outputs;
    assert!(map.len() > 10 && map.windows(2).all(|w| w[0].output_v < w[1].output_v));
    assert!(map.iter().all(|p| p.full.current_a <= 3.0 && p.empty.current_a <= p.full.current_a + 1e-12));
    assert_eq!(map[0].full.limit, OutputLimit::Output);
    let strong = assessed(&bench_supply(&[("output_a", json!(10.0))])).outputs;
    let last = strong[strong.len() - 1];
    assert_eq!(last.full.limit, OutputLimit::Input);
    assert!((last.full.current_a - 5.0 * 16.8 * 0.9 / last.output_v).abs() < 1e-9, "{last:?}");
    // A step-down gives nothing above what it is fed with.
    let buck = [("topology", json!("buck")), ("output_max_v", json!(20.0)), ("adjuster_ohm", json!(100_000.0))];
    let down = assessed(&bench_supply(&buck)).outputs;
    assert_eq!(down[down.len() - 1].full.limit, OutputLimit::Voltage);
    assert!(assessed(&sound()).outputs.is_empty());
}

/// One tap takes a label over: chemistry, count and capacity, where nothing was entered.
#[test]
fn a_label_fills_what_is_not_entered() {
    let blank = with(&Plan::blank("Drill"), &[("device/original/words", json!("Ni-MH 14.4 V 2.0 Ah"))]);
    let finding = assessed(&blank).findings.into_iter().find(|f| f.key == "device.label-words@says").unwrap();
    let found = fixes(&blank, &brick_core::Catalogue::default(), &finding.key).unwrap();
    let original = brick_core::plan::apply(&blank, &found[0].changes).unwrap().device.original;
    assert_eq!((original.series, original.label_v), (Some(12), Some(14.4)));
    assert!((original.capacity_ah.unwrap().value - 2.0).abs() < 1e-12);
    assert!(!has(&with(&blank, &[("device/original/words", json!("made in a factory"))]), "device.label-words@says"));
}

/// What the old battery gave under a meter counts before its label: half of it ran half as long, and nothing is doubtful then.
#[test]
fn what_the_old_battery_gave_counts_before_its_label() {
    let told = |gave: Value| {
        with(
            &sound(),
            &[
                ("device/original/capacity_ah", json!({"value": 3.0, "how": "stated"})),
                ("device/original/run_s", known(200.0)),
                ("device/original/gave_ah", gave),
            ],
        )
    };
    assert!(has(&told(Value::Null), "device.old-run-doubtful"));
    assert!(!has(&told(known(0.6)), "device.old-run-doubtful"));
    assert!((value(&told(known(0.6)), "original.gave_share") - 0.2).abs() < 1e-12);
}

/// A wall that is to be cut away is not in the way, and the build says when it goes.
#[test]
fn a_wall_that_is_cut_away_makes_room_and_is_a_step_of_the_build() {
    let wall = |cut: bool| {
        with(
            &sound(),
            &[(
                "device/compartments",
                json!([{"id": "bay", "name": "battery bay", "space": {"shape": "box", "length_mm": 90.0, "width_mm": 80.0,
                    "depth_mm": 80.0}, "obstructions": [{"name": "rib", "length_mm": 10.0, "width_mm": 80.0, "depth_mm": 80.0,
                    "x_mm": 40.0, "cut": cut}]}]),
            )],
        )
    };
    let steps = |plan: &Plan| sheet(plan, &[]).unwrap().steps.into_iter().map(|s| s.key).collect::<Vec<_>>();
    assert!(steps(&wall(true)).contains(&"apart/cut/bay/0".to_owned()));
    assert!(!steps(&wall(false)).iter().any(|key| key.starts_with("apart/cut/")));
    let place = |plan: &Plan| plan.device.compartments[0].in_the_way().count();
    assert_eq!((place(&wall(true)), place(&wall(false))), (0, 1));
}

/// The device's own charge circuit as the supply of the pack's charger: its volts and its limit stand at the supply, and follow when they
/// are read anew.
#[test]
fn a_host_that_feeds_the_charger_is_its_supply() {
    let fed = |a: f64| {
        with(
            &sound(),
            &[
                ("device/brains", json!({"charges_itself": true, "charge_v": known(13.8), "charge_limit_a": known(a)})),
                ("charging/fed_by_host", json!(true)),
                (
                    "charger",
                    module(
                        "charge module",
                        json!({"charges": {"kind": "cc_cv", "output_v": known(16.8), "output_a": 2.0,
                        "own_supply": false}}),
                    ),
                ),
            ],
        )
    };
    let supply =
        |plan: &Plan| plan.module(brick_core::plan::NodeKind::Supply).and_then(|m| m.supplies.clone()).unwrap();
    assert_eq!((supply(&fed(0.5)).output_v, supply(&fed(0.5)).output_a), (13.8, 0.5));
    // 2 A into 16.8 V are some 38 W; 13.8 V × 0.5 A are 7 W.
    assert!(has(&fed(0.5), "charging.supply-weak"));
    assert!(!has(&fed(5.0), "charging.supply-weak"));
}

/// Readings after the change outrank the calculation for what is typed into the device.
#[test]
fn a_gauge_is_read_after_its_change() {
    let told = |after: Value| {
        with(
            &sound(),
            &[(
                "feed/gauge",
                json!({"top_ohm": 100_000.0, "bottom_ohm": 33_000.0, "series": "e24", "shown_v": known(12.0), "true_v": known(12.0),
                    "after_shown_v": after, "after_true_v": known(16.0)}),
            )],
        )
    };
    let new_k = value(&told(Value::Null), "gauge.new_k");
    let right = told(known(16.0 * new_k));
    assert!(!has(&right, "voltage.gauge-after"));
    let wrong = told(known(16.0 * new_k * 1.1));
    assert!(has(&wrong, "voltage.gauge-after"));
    let typed = |plan: &Plan| value(plan, "gauge.set_empty_v");
    assert!((typed(&wrong) / typed(&right) - 1.1).abs() < 1e-9);
}

/// With each number of cells in its holders: fewer run shorter and carry more each.
#[test]
fn a_run_is_told_for_each_number_of_cells() {
    let plan = with(
        &sound(),
        &[("packs/0/parallel", json!(4)), ("feed/holder", json!({"fewest": 2, "each": "ideal_diode", "each_a": 15.0}))],
    );
    let counts = runs(&plan, &[WhatIf::default()], StartsAt::Full, None).unwrap().by_count;
    assert_eq!(counts.iter().map(|c| c.cells).collect::<Vec<_>>(), [2, 3, 4]);
    assert!(counts.windows(2).all(|w| w[0].time_s < w[1].time_s && w[0].each_a > w[1].each_a), "{counts:?}");
    assert!((counts[0].each_a.unwrap() / counts[2].each_a.unwrap() - 2.0).abs() < 1e-9);
}

/// The diagram counts what is connected beside the device in the current of its wires.
#[test]
fn the_diagram_carries_what_is_connected_beside() {
    use brick_core::print::diagram::{Condition, Held, Shown, diagram};
    let device_a = |plan: &Plan| {
        let shown = Shown { condition: Condition::Running, held: Held::Full, in_series: None };
        let drawn = diagram(plan, shown).unwrap().unwrap();
        drawn.blocks.iter().find(|b| b.id == "device").unwrap().current_a.unwrap().abs()
    };
    let alone = sound();
    let plan = with(&alone, &[("feed/beside", json!([consumer("lamp", amps(0.7), &[])]))]);
    assert!((device_a(&plan) - device_a(&alone) - 0.7).abs() < 1e-6);
}

/// The plate names both positions of two packs with their full voltage.
#[test]
fn the_plate_names_both_positions() {
    let plan = with(&sound(), &[("feed/second", json!({"used_in_series": true, "used_in_parallel": true}))]);
    let positions = assessed(&plan).nameplate.positions.unwrap();
    assert_eq!(positions, "two packs: 33.6 V in series, 16.8 V in parallel");
    assert_eq!(assessed(&sound()).nameplate.positions, None);
}

/// Four packs alike: three more in series add three times the volts and ohms, in parallel they share the load four ways; each is
/// bought, and each is run.
#[test]
fn up_to_four_packs_add_up() {
    use brick_core::advise::bill::bill;
    let joined = |position: &str, count: Option<u32>| {
        with(
            &sound(),
            &[(
                "feed/second",
                json!({position: true, "count": count, "rest_v": known(15.0), "first_rest_v": known(15.1)}),
            )],
        )
    };
    let value = |plan: &Plan, id: &str| assessed(plan).figures.iter().find(|f| f.id == id).unwrap().value;
    for (id, one_in_series, one_in_parallel) in
        [("line.ah", 1.0, 4.0), ("line.ohm", 4.0, 0.25), ("line.full_v", 4.0, 1.0), ("cells.limit_a", 1.0, 4.0)]
    {
        let alone = value(&sound(), id);
        let series = value(&joined("used_in_series", Some(3)), id) / alone;
        let parallel = value(&joined("used_in_parallel", Some(3)), id) / alone;
        assert!(
            (series - one_in_series).abs() < 1e-9 && (parallel - one_in_parallel).abs() < 1e-9,
            "{id}: {series} {parallel}"
        );
    }
    let four = joined("used_in_parallel", Some(3));
    assert_eq!(assessed(&four).nameplate.positions.unwrap(), "four packs: 16.8 V in parallel");
    assert!((value(&joined("used_in_series", Some(3)), "switched.series_full_v") - 4.0 * 16.8).abs() < 1e-9);
    // Three packs 0.1 V lower behind a third of the resistance: 0.1 V over 4/3 of a pack's, where one has twice a pack's.
    let flows = |count| value(&joined("used_in_parallel", count), "switched.equalise_a");
    assert!((flows(Some(3)) / flows(None) - 1.5).abs() < 1e-9, "{} {}", flows(Some(3)), flows(None));
    let cells = |plan: &Plan| -> f64 {
        let bill = bill(plan, &common::catalogue()).unwrap();
        let of_cells =
            |l: &&brick_core::advise::bill::BillLine| l.places.iter().any(|p| p == "cell" || p == "second pack");
        bill.lines.iter().filter(of_cells).map(|l| l.count).sum()
    };
    assert_eq!(cells(&four), 4.0 * cells(&sound()));
    let runs = |plan: &Plan| value(plan, "run.time_s");
    let (alone, shared) = (runs(&sound()), runs(&four));
    assert!(shared > 4.0 * alone && shared < 5.0 * alone, "{alone} s alone, {shared} s by four");
    let mut many = serde_json::to_value(&four).unwrap();
    many["feed"]["second"]["count"] = json!(4);
    let errors = brick_core::plan::Plan::check(&serde_json::from_value(many).unwrap()).unwrap_err();
    assert_eq!(errors[0].field, "/feed/second/count");
}

/// A converter used as a charger has a set-up table of its own; a wall charger has none.
#[test]
fn a_charge_module_is_set_up_before_it_meets_the_pack() {
    use brick_core::assess::charge;
    let module_of = |own_supply: bool| {
        let charges = json!({"kind": "cc_cv", "output_v": known(16.8), "output_a": 1.0, "own_supply": own_supply});
        with(&sound(), &[("charger", module("charge module", json!({"charges": charges})))])
    };
    let steps = charge(&module_of(false)).unwrap().set_up;
    assert!(steps.len() == 5 && steps[1].reads.text.contains("16.8 V"), "{steps:?}");
    assert!(charge(&module_of(true)).unwrap().set_up.is_empty());
}

/// By hand: 9 A for 15 ms out of 50 mF are 2.7 V; out of 1 mF 135 V, more than the device tolerates.
#[test]
fn a_standby_supply_is_told_through_mains_in_out_and_back() {
    let told = |hold_up_f: f64| {
        let plan =
            with(&sound(), &[("feed/change_over", json!({"by": "relay", "hold_up_f": hold_up_f, "coil_a": 0.05}))]);
        assessed(&plan).mains
    };
    let states = told(0.05);
    assert_eq!(
        states.iter().map(|s| s.when).collect::<Vec<_>>(),
        ["Mains in", "Mains fails", "Mains out", "Mains returns"]
    );
    assert!(states[0].battery.text.contains("50 mA from it"), "{:?}", states[0]);
    assert!(states[1].device.text.contains("15 ms") && states[1].device.text.contains("runs on"), "{:?}", states[1]);
    assert!(states[2].battery.text.starts_with("lasts "), "{:?}", states[2]);
    assert!(states[3].battery.text.contains("charged with"), "{:?}", states[3]);
    assert!(told(0.001)[1].device.text.contains("starts again"), "{:?}", told(0.001)[1]);
    assert!(assessed(&sound()).mains.is_empty());
}

/// A board and a switch beside the brick of eight cells in a bay: both find a place, nothing overlaps, and what sits outside is not asked.
#[test]
fn things_find_their_place_beside_the_brick() {
    let size = |l: f64, w: f64, h: f64| json!({"length_mm": l, "width_mm": w, "height_mm": h});
    let mut changes = common::flaws::laying::laid();
    changes.extend([("nodes/1/size", size(60.0, 40.0, 6.0)), ("nodes/4/size", size(30.0, 20.0, 25.0))]);
    let plan = with(&sound(), &changes);
    let bay = assessed(&plan).bays.remove(0);
    assert_eq!(bay.things.iter().map(|t| t.node.as_str()).collect::<Vec<_>>(), ["board", "switch"]);
    let boxes: Vec<_> = bay.things.iter().map(|t| t.at.expect("it has a place")).chain(bay.brick).collect();
    for (i, one) in boxes.iter().enumerate() {
        assert!(boxes[..i].iter().all(|other| !other.meets(one)), "{boxes:?}");
        assert!((0..3).all(|k| one.low_mm[k] >= -1e-6 && one.high_mm[k] <= bay.space_mm[k] + 1e-6), "{boxes:?}");
    }
    let outside = with(&plan, &[("nodes/4/sits", json!("outside"))]);
    assert_eq!(assessed(&outside).bays[0].things.len(), 1);
    assert!(assessed(&with(&sound(), &common::flaws::laying::laid())).bays.is_empty());
}

/// A converter that finds no place beside the brick goes into the handle: there it is judged alone, and the brick keeps its bay.
#[test]
fn a_thing_sits_in_the_compartment_that_was_said() {
    let size = |l: f64, w: f64, h: f64| json!({"length_mm": l, "width_mm": w, "height_mm": h});
    let mut changes = common::flaws::laying::laid();
    changes.push(("nodes/1/size", size(190.0, 40.0, 40.0)));
    let tight = with(&sound(), &changes);
    let mut compartments = serde_json::to_value(&tight.device.compartments).unwrap();
    let handle = json!({"id": "handle", "name": "handle",
        "space": {"shape": "box", "length_mm": 200.0, "width_mm": 45.0, "depth_mm": 45.0}});
    compartments.as_array_mut().unwrap().push(handle);
    let tight = with(&tight, &[("device/compartments", compartments)]);
    let key = "brick.thing-unplaced@board";
    assert!(assessed(&tight).findings.iter().any(|f| f.key == key));
    // The fix names the compartment in which it fits.
    let fix = fixes(&tight, &catalogue(), key).unwrap().remove(0);
    assert!(fix.label.contains("handle"), "{}", fix.label);
    let moved = assessed(&apply(&tight, &fix.changes).unwrap());
    assert!(moved.findings.iter().all(|f| f.key != key));
    let told: Vec<_> = moved.bays.iter().map(|b| (b.name.as_str(), b.brick.is_some(), b.things.len())).collect();
    assert_eq!(told, [("handle", false, 1)]);
    // One that is too long for the handle as well is told of there, by its name.
    let long = with(&apply(&tight, &fix.changes).unwrap(), &[("nodes/1/size", size(260.0, 40.0, 40.0))]);
    let found = assessed(&long).findings.into_iter().find(|f| f.key == key).expect("it fits nowhere");
    assert!(found.why.text.contains("“handle” in any position"), "{}", found.why.text);
}

/// What is read at the contacts of a device goes with them: which wire belongs there, and what nothing is planned for.
#[test]
fn the_contacts_of_a_device_say_which_wire_they_get() {
    let contacts = |host: &str| {
        let plan = with(
            &sound(),
            &[
                ("charging/host", json!(host)),
                ("device/brains", json!({"identity_pins": true})),
                (
                    "device/contacts",
                    json!([
                {"id": "a", "name": "outer spring", "kind": "battery_plus", "off_v": known(12.3), "on_v": known(11.9)},
                {"id": "b", "name": "inner spring", "kind": "battery_minus"},
                {"id": "c", "name": "side pin", "kind": "charge"},
                {"id": "d", "name": "small pin", "kind": "sense", "old_battery_ohm": known(10_000.0)}]),
                ),
            ],
        );
        assessed(&plan)
    };
    let assessment = contacts("cut_off");
    let device = assessment.things.iter().find(|t| t.name == "Device").expect("it has contacts");
    let wires: Vec<_> = device.pads.iter().map(|p| (p.name.as_str(), p.to.as_str())).collect();
    assert_eq!(
        wires,
        [
            ("outer spring", "plus of the load, last"),
            ("inner spring", "minus of the load"),
            ("side pin", "nothing: insulate it"),
            ("small pin", "10 kΩ to minus")
        ]
    );
    assert_eq!(device.pads[0].read, "12.3 V off, 11.9 V on");
    // Four groups of 3.6 V.
    assert!(device.pads[0].rest_v.is_some_and(|v| (v - 14.4).abs() < 1e-9) && device.pads[1].rest_v == Some(0.0));
    let identity = assessment.findings.iter().find(|f| f.key == "device.wants-identity").unwrap();
    assert!(identity.why.text.contains("10 kΩ between “small pin” and minus"), "{}", identity.why.text);
    let sensed = json!([{"id": "d", "name": "small pin", "kind": "sense"}]);
    let to = |pins: Value| {
        let plan = with(&sound(), &[("device/brains", pins), ("device/contacts", sensed.clone())]);
        assessed(&plan).things.iter().flat_map(|t| t.pads.clone()).find(|p| p.name == "small pin").unwrap().to
    };
    assert!(to(json!({})).starts_with("not decided"), "{}", to(json!({})));
    assert!(to(json!({"temperature_pins": true})).starts_with("temperature sensor"));
    assert_eq!(to(json!({"identity_pins": false, "temperature_pins": false})), "nothing: insulate it");
    let charged = contacts("charges_pack");
    assert!(charged.things.iter().flat_map(|t| &t.pads).any(|p| p.to == "charge input of the pack"));
    // Who holds a meter to the device is told so in the maker's words.
    let named = json!([{"id": "a", "name": "outer spring", "kind": "battery_plus"}]);
    let shown = Shown { condition: Condition::Off, held: Held::Full, in_series: None };
    let drawn = diagram(&with(&sound(), &[("device/contacts", named)]), shown).unwrap().expect("a diagram");
    let points: Vec<_> = drawn.points.iter().map(|p| p.says.as_str()).collect();
    assert!(points.contains(&"plus of the device, “outer spring”"), "{points:?}");
}
