//! The wiring diagram: its volts against another solution, its wires and words on the page.

use brick_core::Plan;
use brick_core::advise::fix::board_places;
use brick_core::plan::{Choice, NodeKind, apply};
use brick_core::print::diagram::circuit::{Circuit, Element, Solved};
use brick_core::print::diagram::{Condition, Diagram, Held, Schematic, Shown, Words, WordsRole, diagram, solved, svg};
use proptest::prelude::*;
use serde_json::{Value, json};

use crate::common::{board, charger, jobs, known, module, sound, with};

const HELD: [Held; 4] = [Held::Full, Held::Half, Held::Empty, Held::Read];

fn shown(condition: Condition, held: Held) -> Shown {
    Shown { condition, held, in_series: None }
}

fn of(plan: &Plan, condition: Condition) -> Diagram {
    diagram(plan, shown(condition, Held::Full)).unwrap().expect("a diagram")
}

/// What the meter should read at a place, by its words.
fn reads(diagram: &Diagram, what: &str) -> Option<f64> {
    diagram.probes.iter().find(|p| p.what == what).unwrap_or_else(|| panic!("no reading “{what}”")).reads_v
}

fn wire(awg: i32) -> Value {
    json!({"state": "chosen", "part": {"offer": {"name": "silicone wire"}, "insulation": "silicone",
        "size": {"standard": "awg", "awg": awg}, "bundled": false}})
}

/// The jobs, and what none of them has: a board on the charge side, a port of its own, wires before the board, holders,
/// sixteen in series with an alarm, a hobby charger over the taps, nothing chosen yet.
fn many() -> Vec<(String, Plan)> {
    let mut plans: Vec<(String, Plan)> = jobs::plans().into_iter().map(|(n, p)| (n.to_owned(), p)).collect();
    let aside = apply(&sound(), &board_places(&sound()).unwrap()[1].changes).unwrap();
    let before = [("runs/0/wire", wire(12)), ("runs/0/length_mm", json!(80.0))];
    let alarm = module("cell alarm with buzzer and lamp", json!({"alarms": {"at_cell_v": 3.4}}));
    plans.push(("board on the charge side".to_owned(), with(&aside, &before)));
    let separate = [("board/protects/port", json!("separate")), ("packs/0/brick/joined_by", json!("springs"))];
    plans.push(("port of its own".to_owned(), with(&sound(), &[&before[..], &separate[..]].concat())));
    plans.push((
        "sixteen in series".to_owned(),
        with(
            &sound(),
            &[
                ("packs/0/series", json!(16)),
                ("packs/0/parallel", json!(10)),
                ("board", board(16)),
                ("charger", charger(67.2, 2.0)),
                ("alarm", alarm.clone()),
                ("wiring/panel_meter", json!(true)),
                ("wiring/taps", json!({"fused": true})),
                ("cutoff", module("cut-off board", json!({"cuts_off": {"at_v": 48.0}}))),
            ],
        ),
    ));
    let hobby = [
        ("board", json!({"state": "none"})),
        ("jack", json!({"state": "none"})),
        ("charger/charges/balance_a", json!(0.3)),
        ("alarm", alarm),
    ];
    plans.push(("hobby charger at the taps".to_owned(), with(&sound(), &hobby)));
    plans.push(("charge behind the fuse".to_owned(), with(&sound(), &[("runs/7/to", json!("fuse"))])));
    let blank = [("packs/0/series", json!(3)), ("packs/0/chemistry", json!("li_ion"))];
    plans.push(("nothing chosen".to_owned(), with(&Plan::blank("Lamp"), &blank)));
    plans
}

/// Modified nodal analysis by elimination with row exchange: every source is ideal and has a current of its own as an unknown,
/// its resistance stands behind a node of its own. `None` for a node that is not joined to node 0.
fn by_elimination(circuit: &Circuit) -> Vec<Option<f64>> {
    let sources = circuit.elements().iter().filter(|e| matches!(e.2, Element::Source { .. })).count();
    let nodes = circuit.node_count() + sources;
    let size = nodes + sources;
    let mut m = vec![vec![0.0; size + 1]; size];
    let (mut inner, mut current) = (circuit.node_count(), nodes);
    let mut near: Vec<(usize, usize)> = vec![];
    let resistance = |m: &mut Vec<Vec<f64>>, a: usize, b: usize, ohm: f64| {
        for (i, j, sign) in [(a, a, 1.0), (b, b, 1.0), (a, b, -1.0), (b, a, -1.0)] {
            m[i][j] += sign / ohm;
        }
    };
    for &(a, b, element) in circuit.elements() {
        match element {
            Element::Resistance { ohm } => {
                resistance(&mut m, a, b, ohm);
                near.push((a, b));
            }
            Element::Source { emf_v, ohm } => {
                resistance(&mut m, a, inner, ohm);
                for (node, sign) in [(inner, 1.0), (b, -1.0)] {
                    m[node][current] -= sign;
                    m[current][node] += sign;
                }
                m[current][size] = emf_v;
                near.push((a, b));
                (inner, current) = (inner + 1, current + 1);
            }
            Element::Current { current_a } => {
                m[a][size] += current_a;
                m[b][size] -= current_a;
            }
        }
    }
    let mut joined = vec![false; circuit.node_count()];
    joined[0] = true;
    for _ in 0..joined.len() {
        for &(a, b) in &near {
            let either = joined[a] || joined[b];
            (joined[a], joined[b]) = (either, either);
        }
    }
    // Node 0 is the reference; so is the first node of whatever hangs in the air.
    let mut held = vec![0];
    let mut reached = joined.clone();
    while let Some(next) = (0..reached.len()).find(|&n| !reached[n]) {
        held.push(next);
        reached[next] = true;
        for _ in 0..reached.len() {
            for &(a, b) in &near {
                let either = reached[a] || reached[b];
                (reached[a], reached[b]) = (either, either);
            }
        }
    }
    for node in held {
        m[node].fill(0.0);
        m[node][node] = 1.0;
    }
    for k in 0..size {
        let best = (k..size).max_by(|&a, &b| m[a][k].abs().total_cmp(&m[b][k].abs())).unwrap();
        m.swap(k, best);
        let pivot = m[k].clone();
        for (i, row) in m.iter_mut().enumerate().filter(|(i, _)| *i != k) {
            let share = row[k] / pivot[k];
            assert_ne!(i, k);
            row.iter_mut().zip(&pivot).for_each(|(x, p)| *x -= share * p);
        }
    }
    (0..circuit.node_count()).map(|n| joined[n].then(|| m[n][size] / m[n][n])).collect()
}

/// Every condition of every kind of job, with the cells full, half full, at their end and as read.
#[test]
fn the_volts_are_those_of_another_solution_of_the_same_circuit() {
    let mut compared = 0;
    for (name, plan) in many() {
        for condition in Condition::ALL {
            for held in HELD {
                let Some((circuit, found)) = solved(&plan, shown(condition, held)).unwrap() else {
                    assert!(condition == Condition::Hardest, "{name}: {condition:?} {held:?} has no working point");
                    continue;
                };
                for (node, wanted) in by_elimination(&circuit).into_iter().enumerate() {
                    let v = found.between_v(node, 0);
                    assert_eq!(v.is_some(), wanted.is_some(), "{name}: {condition:?} node {node}");
                    let (Some(v), Some(wanted)) = (v, wanted) else { continue };
                    // A tenth of a millivolt: closed contacts of a microohm stand beside what hardly joins at all.
                    assert!((v - wanted).abs() < 1e-4, "{name}: {condition:?} {held:?} node {node}: {v} not {wanted}");
                    compared += 1;
                }
                conserves(&circuit, &found, &name);
            }
        }
    }
    assert!(compared > 5000, "{compared}");
}

/// Tellegen: what the sources give is what the resistances take.
fn conserves(circuit: &Circuit, found: &Solved, name: &str) {
    let (mut given_w, mut taken_w) = (0.0, 0.0);
    for (number, &(a, b, element)) in circuit.elements().iter().enumerate() {
        let i = circuit.current_a(number, found);
        let over_v = found.node_v[a] - found.node_v[b];
        match element {
            Element::Resistance { .. } => taken_w -= i * over_v,
            Element::Source { emf_v, ohm } => {
                given_w += emf_v * i;
                taken_w += i * i * ohm;
            }
            Element::Current { .. } => given_w += i * over_v,
        }
    }
    assert!((given_w - taken_w).abs() < 1e-3 * (1.0 + taken_w.abs()), "{name}: {given_w} W given, {taken_w} W taken");
}

/// reference/circuits, ngspice 39: four cells with a divider on each tap.
#[test]
fn taps_with_dividers_stand_where_a_circuit_solver_puts_them() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../reference/circuits/results.json");
    let results: Value = serde_json::from_str(&std::fs::read_to_string(path).unwrap()).unwrap();
    let case = results["cases"].as_array().unwrap().iter().find(|c| c["id"] == "taps_4s").unwrap();
    let given = |key: &str, k: usize| case["inputs"][key][k].as_f64().unwrap();
    let mut circuit = Circuit::default();
    let mut below = circuit.node();
    let (mut taps, mut senses, mut cells) = (vec![], vec![], vec![]);
    for k in 0..4 {
        let (tap, sense) = (circuit.node(), circuit.node());
        let source = Element::Source { emf_v: given("emf_v", k), ohm: given("r_cell_ohm", k) };
        cells.push(circuit.put(tap, below, source));
        circuit.put(tap, sense, Element::Resistance { ohm: given("r_top_ohm", k) });
        circuit.put(sense, 0, Element::Resistance { ohm: given("r_bottom_ohm", k) });
        circuit.put(sense, 0, Element::Resistance { ohm: case["inputs"]["r_load_ohm"].as_f64().unwrap() });
        taps.push(tap);
        senses.push(sense);
        below = tap;
    }
    let found = circuit.solve().unwrap();
    for k in 0..4 {
        let wanted = |key: &str| case["outputs"][key][k].as_f64().unwrap();
        assert!((found.between_v(taps[k], 0).unwrap() - wanted("tap_v")).abs() < 1e-9);
        assert!((found.between_v(senses[k], 0).unwrap() - wanted("sense_v")).abs() < 1e-9);
        assert!((circuit.current_a(cells[k], &found) - wanted("drain_a_per_cell")).abs() < 1e-12);
    }
}

/// Worked by hand from the parts of the plan: 4 × 4.2 V less 9 A through cells (4 × 18 mΩ / 2), strips, board (3 mΩ), switch, both
/// wires and both contacts of the plug, as the plan states them.
#[test]
fn running_the_device_has_what_every_part_of_the_line_leaves() {
    let plan = sound();
    let assessment = brick_core::assess(&plan).unwrap();
    let ohm = |id: &str| assessment.figure(id).unwrap_or_else(|| panic!("{id}")).value;
    let path_ohm = 4.0 * 0.018 / 2.0 + ohm("strip.all_ohm") + ohm("path.contacts_ohm") + ohm("wire.ohm@lead");
    let found = of(&plan, Condition::Running);
    let device_v = reads(&found, "at the device").unwrap();
    assert!((device_v - (16.8 - 9.0 * path_ohm)).abs() < 1e-4, "{device_v} not {}", 16.8 - 9.0 * path_ohm);
    let current_a = found.blocks.iter().find(|b| b.id == "device").unwrap().current_a.unwrap();
    assert!((current_a - 9.0).abs() < 1e-6, "{current_a}");
    // The board loses its 3 mΩ, in the minus.
    assert!((reads(&found, "across the board’s MOSFETs").unwrap() - 0.027).abs() < 1e-6);
}

#[test]
fn a_board_that_has_opened_has_the_whole_pack_across_it() {
    let found = of(&sound(), Condition::Tripped);
    assert!((reads(&found, "across the board’s MOSFETs").unwrap() - 16.8).abs() < 1e-3);
    for dead in ["board, output", "plug, device’s half", "at the device", "jack, pack’s half"] {
        assert!(reads(&found, dead).unwrap().abs() < 1e-3, "{dead}");
    }
    assert!((reads(&found, "tap B3 from pack minus").unwrap() - 12.6).abs() < 1e-3, "the taps stay live");
    // With a port of its own the charger still reaches the cells.
    let (_, separate) = many().into_iter().find(|(n, _)| n == "port of its own").unwrap();
    assert!((reads(&of(&separate, Condition::Tripped), "jack, pack’s half").unwrap() - 16.8).abs() < 1e-3);
}

#[test]
fn an_open_switch_takes_the_pack_and_leaves_nothing_behind_it() {
    for condition in [Condition::Off, Condition::Rest, Condition::Charging] {
        let found = of(&sound(), condition);
        assert!((reads(&found, "across the switch").unwrap() - 16.8).abs() < 1e-2, "{condition:?}");
        assert_eq!(reads(&found, "behind the switch"), Some(0.0), "{condition:?}");
        assert_eq!(reads(&found, "at the device"), Some(0.0), "{condition:?}");
    }
    let pulled = of(&sound(), Condition::Off);
    assert_eq!(reads(&pulled, "jack, charger’s half"), None, "nothing joins a pulled plug to the pack");
}

/// The charger gives its current until its end volts are there: 2 A into cells at half charge; nothing into full ones.
#[test]
fn the_charger_gives_its_current_and_then_its_volts() {
    let at = |held| diagram(&sound(), shown(Condition::Charging, held)).unwrap().unwrap();
    let current_a = |d: &Diagram| d.blocks.iter().find(|b| b.id == "charger").unwrap().current_a.unwrap();
    let half = at(Held::Half);
    assert!((current_a(&half) - 2.0).abs() < 1e-9);
    let output_v = reads(&half, "output of the charger").unwrap();
    assert!(output_v < 16.8 && output_v > reads(&half, "the whole pack").unwrap(), "{output_v}");
    let full = at(Held::Full);
    assert!(current_a(&full).abs() < 1e-3, "{}", current_a(&full));
    assert!((reads(&full, "output of the charger").unwrap() - 16.8).abs() < 1e-4);
}

#[test]
fn a_charge_of_which_something_is_unknown_is_not_made_up() {
    let cases = [
        (vec![("charger", json!({"state": "open"}))], "not chosen yet"),
        (vec![("charger", json!({"state": "none"}))], "No charger is drawn"),
        (vec![("charger/charges/output_a", Value::Null)], "current is not known"),
        (vec![("charging", json!({"host": "charges_pack"}))], "own circuit charges the pack"),
    ];
    for (changes, why) in cases {
        let found = of(&with(&sound(), &changes), Condition::Charging);
        assert!(found.not_reckoned.is_some_and(|w| w.contains(why)), "{:?}", found.not_reckoned);
        assert!(found.nodes.iter().all(|n| n.node_v.is_none()), "{why}");
    }
}

/// 5 V from one cell by a boost: what it takes is what it gives over its efficiency.
#[test]
fn a_converter_takes_what_it_gives_over_its_efficiency() {
    let (_, plan) = many().into_iter().find(|(n, _)| n.starts_with("four primary cells")).unwrap();
    let found = of(&plan, Condition::Running);
    let converter = found.blocks.iter().find(|b| b.id == "converter").unwrap().current_a.unwrap();
    let fuse = found.blocks.iter().find(|b| b.id == "fuse").unwrap().current_a.unwrap();
    let (given_w, taken_w) = (
        converter * reads(&found, "output of the converter").unwrap(),
        fuse * reads(&found, "input of the converter").unwrap(),
    );
    assert!((given_w - 0.1 * 5.0).abs() < 1e-5, "{given_w}");
    assert!((given_w / taken_w - 0.88).abs() < 1e-3, "{}", given_w / taken_w);
    assert_eq!(reads(&of(&plan, Condition::Off), "output of the converter"), Some(0.0));
}

/// The same two packs: in series twice the volts and one pack's share of the load each, side by side half the current each.
#[test]
fn two_switched_packs_add_in_series_and_share_side_by_side() {
    let (_, plan) = many().into_iter().find(|(n, _)| n.starts_with("lead-acid machine on two tool packs")).unwrap();
    let set = |in_series| {
        let shown = Shown { condition: Condition::Running, held: Held::Full, in_series: Some(in_series) };
        diagram(&plan, shown).unwrap().unwrap()
    };
    let (series, beside) = (set(true), set(false));
    let behind = |d: &Diagram| reads(d, "behind the selector").unwrap();
    assert!((behind(&series) / behind(&beside) - 2.0).abs() < 0.02, "{} {}", behind(&series), behind(&beside));
    let second_a = |d: &Diagram| d.blocks.iter().find(|b| b.id == "second-pack").unwrap().current_a.unwrap();
    assert!((second_a(&series) - 8.0).abs() < 1e-6, "{}", second_a(&series));
    // Both have the same cells; the board in the way of the first has 3 mΩ more.
    assert!(second_a(&beside) > 4.0 && second_a(&beside) < 4.4, "{}", second_a(&beside));
}

#[test]
fn the_groups_can_be_taken_as_they_were_read() {
    let read = [4.02, 4.05, 3.88, 4.03];
    let plan = with(&sound(), &[("packs/0/group_v", json!(read.map(known)))]);
    let found = diagram(&plan, shown(Condition::Rest, Held::Read)).unwrap().unwrap();
    assert!(found.can_read);
    for (k, v) in read.into_iter().enumerate() {
        assert!((reads(&found, &format!("group {}", k + 1)).unwrap() - v).abs() < 1e-6);
    }
    assert!((reads(&found, "the whole pack").unwrap() - read.iter().sum::<f64>()).abs() < 1e-6);
}

#[test]
fn every_part_of_the_plan_stands_in_its_diagram() {
    // A charge that joins behind the board stands in one box.
    for (name, plan) in many().into_iter().filter(|(name, _)| name != "charge behind the fuse") {
        let found = of(&plan, Condition::Running);
        let drawn = |id: &str| found.drawing.blocks.iter().any(|b| b.id == id);
        for node in &plan.nodes {
            let there = match node.kind {
                NodeKind::Pack | NodeKind::Device => true,
                NodeKind::Supply => {
                    let own =
                        plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref()).is_some_and(|c| c.own_supply);
                    !own && !matches!(node.part, Choice::None)
                }
                _ => !matches!(node.part, Choice::None),
            };
            assert_eq!(drawn(&node.id), there, "{name}: {}", node.id);
        }
        for run in plan.connections.iter().filter(|r| r.wire.part().is_some()) {
            assert!(drawn(&run.id), "{name}: {}", run.id);
        }
        assert_eq!(drawn("gauge"), plan.feed.gauge.is_some(), "{name}");
        assert_eq!(drawn("change-over"), plan.feed.change_over.is_some(), "{name}");
        assert_eq!(drawn("second-pack"), plan.feed.second.is_some(), "{name}");
        assert_eq!(drawn("meter"), plan.wiring.panel_meter == Some(true), "{name}");
        let fused = plan.wiring.taps.as_ref().and_then(|t| t.fused) == Some(true);
        assert_eq!(drawn("tap-fuses"), fused, "{name}");
    }
}

type Box = [f64; 4];

/// The room that words take.
fn room(w: &Words) -> Box {
    let (letter_mm, height_mm) = match w.role {
        WordsRole::Pin => (1.15, 2.0),
        _ => (1.5, 2.4),
    };
    let wide = w.whole().chars().count() as f64 * letter_mm;
    let left = match w.anchor {
        "start" => w.x_mm,
        "end" => w.x_mm - wide,
        _ => w.x_mm - wide / 2.0,
    };
    [left, w.y_mm - height_mm, left + wide, w.y_mm]
}

fn meet(a: Box, b: Box) -> bool {
    a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]
}

/// Straight pieces of wires, level or upright.
fn pieces(d: &Schematic) -> Vec<(usize, Box)> {
    let piece =
        |w: &[[f64; 2]]| [w[0][0].min(w[1][0]), w[0][1].min(w[1][1]), w[0][0].max(w[1][0]), w[0][1].max(w[1][1])];
    d.wires.iter().flat_map(|w| w.corners_mm.windows(2).map(move |c| (w.node, piece(c)))).collect()
}

/// In every condition of every plan: wires of different nodes never touch, words neither one another nor a wire.
#[test]
fn no_wire_crosses_another_and_no_words_are_crossed() {
    for (name, plan) in many() {
        for condition in Condition::ALL {
            let d = of(&plan, condition).drawing;
            let all = pieces(&d);
            for (i, (node, a)) in all.iter().enumerate() {
                assert!(a[0] == a[2] || a[1] == a[3], "{name}: a wire runs askew");
                for (other, b) in &all[..i] {
                    let grown = [b[0] - 0.01, b[1] - 0.01, b[2] + 0.01, b[3] + 0.01];
                    let at_a_mark = ends_meet(a, b);
                    assert!(
                        node == other || at_a_mark || !meet(*a, grown),
                        "{name}: {condition:?} {node} {other} {a:?} {b:?}"
                    );
                }
            }
            let boxes = ["board", "tap-plug", "alarm", "converter", "device", "charger", "supply"];
            for block in d.blocks.iter().filter(|b| boxes.contains(&b.id.as_str())) {
                let [x, y, wide, high] = block.reach_mm;
                let inside = [x + 1.0, y + 1.0, x + wide - 1.0, y + high - 1.0];
                assert!(
                    all.iter().all(|(_, piece)| !meet(*piece, inside)),
                    "{name}: a wire runs through the {}",
                    block.id
                );
            }
            for (i, w) in d.words.iter().enumerate() {
                for other in &d.words[..i] {
                    assert!(
                        !meet(room(w), room(other)),
                        "{name}: {condition:?} “{}” on “{}”",
                        w.whole(),
                        other.whole()
                    );
                }
                for (node, piece) in &all {
                    assert!(!meet(room(w), *piece), "{name}: {condition:?} “{}” on node {node} {piece:?}", w.whole());
                }
                let inside = room(w);
                let page = [d.left_mm, d.top_mm, d.left_mm + d.width_mm, d.top_mm + d.height_mm];
                assert!(inside[0] >= page[0] && inside[2] <= page[2] && inside[1] >= page[1] && inside[3] <= page[3]);
            }
        }
    }
}

/// Two nodes meet end to end at the mark of a wire that has a length.
fn ends_meet(a: &Box, b: &Box) -> bool {
    let level = [a[3], b[1], b[3]] == [a[1]; 3] && (a[2] == b[0] || b[2] == a[0]);
    let upright = [a[2], b[0], b[2]] == [a[0]; 3] && (a[3] == b[1] || b[3] == a[1]);
    level || upright
}

/// One piece of metal has one potential: what is written on it says so, and the two ends of a wire that has a length differ
/// by no more than its copper loses.
#[test]
fn a_wire_has_the_same_volts_wherever_they_stand() {
    for (name, plan) in many() {
        for condition in Condition::ALL {
            let found = of(&plan, condition);
            let volts = |node: usize| found.nodes[node].node_v;
            let most_v = found.nodes.iter().filter_map(|n| n.node_v).fold(0.0, f64::max);
            for words in found.drawing.words.iter().filter(|w| w.role == WordsRole::Volts) {
                let Some(node) = words.node else { continue };
                assert_eq!(words.reads_v, volts(node), "{name}: {condition:?} {}", words.whole());
            }
            let all = pieces(&found.drawing);
            for (i, (node, a)) in all.iter().enumerate() {
                for (other, b) in all[..i].iter().filter(|(other, b)| other != node && ends_meet(a, b)) {
                    let ends = (volts(*node), volts(*other));
                    let (Some(one_v), Some(other_v)) = ends else {
                        assert_eq!(ends, (None, None), "{name}: {condition:?} {node} {other} {b:?}");
                        continue;
                    };
                    assert!((one_v - other_v).abs() < 0.05 * most_v, "{name}: {condition:?} {ends:?}");
                }
            }
        }
    }
}

#[test]
fn the_page_is_valid_and_holds_any_name() {
    let name = "Saw <b> & \"loppers\"";
    let plan = with(&sound(), &[("name", json!(name))]);
    let page = svg(&of(&plan, Condition::Running));
    let document = roxmltree::Document::parse(&page).unwrap();
    let texts: Vec<&str> = document.descendants().filter_map(|n| n.text()).map(str::trim).collect();
    assert!(texts.iter().any(|t| t.contains(name)), "{texts:?}");
    for words in ["Board", "B3  12.35 V", "across the switch", "What the meter should show"] {
        assert!(texts.contains(&words), "{words} is not in {texts:?}");
    }
    assert_eq!(document.root_element().attribute("width"), Some("297mm"));
}

#[test]
fn nothing_is_drawn_before_the_series_count_is_known() {
    assert_eq!(diagram(&Plan::blank("Lamp"), Shown::default()).unwrap(), None);
    let bad = with(&sound(), &[("packs/0/series", json!(400))]);
    assert!(diagram(&bad, Shown::default()).is_err());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// Whatever the load: in the line nothing gains volts on its way out, and more load never lifts the device.
    #[test]
    fn volts_fall_along_the_line_and_with_the_load(load_a in 0.5..25.0f64, more in 1.05..2.0f64, series in 1u32..14) {
        let at = |a: f64| of(&with(&sound(), &[
            ("packs/0/series", json!(series)),
            ("device/highest_v", known(60.0)),
            ("device/loads/0/draw/value_a", known(a)),
        ]), Condition::Running);
        let (light, heavy) = (at(load_a), at(load_a * more));
        let along = ["the whole pack", "board, output", "behind the switch", "plug, device’s half", "at the device"];
        let along = if series == 1 { &along[1..] } else { &along[..] };
        for pair in along.windows(2) {
            prop_assert!(reads(&light, pair[0]) >= reads(&light, pair[1]), "{pair:?}");
        }
        prop_assert!(reads(&heavy, "at the device") < reads(&light, "at the device"));
    }
}

/// A plan from elsewhere may have any graph: runs that are missing, lead elsewhere, or join the charge behind the fuse.
#[test]
fn a_graph_from_elsewhere_is_drawn_as_far_as_it_goes() {
    let plan = sound();
    let ids: Vec<String> = plan.nodes.iter().map(|n| n.id.clone()).collect();
    for condition in Condition::ALL {
        for run in 0..plan.connections.len() {
            let mut cut = plan.clone();
            cut.connections.remove(run);
            assert!(of(&cut, condition).drawing.width_mm.is_finite(), "without run {run}");
            for id in &ids {
                let mut moved = plan.clone();
                moved.connections[run].to.clone_from(id);
                if let Ok(found) = diagram(&moved, shown(condition, Held::Full)) {
                    assert!(found.unwrap().drawing.width_mm.is_finite(), "run {run} to {id}");
                }
            }
        }
    }
    let behind = with(&plan, &[("runs/7/to", json!("fuse"))]);
    let found = of(&behind, Condition::Charging);
    let over = reads(&found, "across the fuse").unwrap();
    assert!(over.abs() < 1e-3 && found.drawing.blocks.iter().any(|b| b.id == "charger"));
    assert!(found.drawing.words.iter().any(|w| w.text == "Charge"), "the charge stands between the rails");
}

/// A charge module in the device is plugged in at its input: the jack reads the supply, not the pack.
#[test]
fn the_jack_of_a_module_inside_stands_before_it() {
    let usb = [
        ("charger/charges/own_supply", json!(false)),
        ("supply", module("wall supply 20 V", json!({"supplies": {"output_v": 20.0, "output_a": 3.0}}))),
    ];
    let found = of(&with(&sound(), &usb), Condition::Charging);
    let order: Vec<&str> = found.blocks.iter().map(|b| b.id.as_str()).collect();
    let place = |id: &str| order.iter().position(|o| *o == id).unwrap_or_else(|| panic!("{id} in {order:?}"));
    assert!(place("charger") < place("jack") && place("jack") < place("supply"), "{order:?}");
    assert!((reads(&found, "jack, supply’s half").unwrap() - 20.0).abs() < 1e-3);
    assert!((reads(&found, "input of the charger").unwrap() - 20.0).abs() < 0.05);
    // A charger with a plug of its own meets the pack's volts there.
    let wall = of(&sound(), Condition::Charging);
    assert!(reads(&wall, "jack, charger’s half").unwrap() < 16.9);
}

/// A charging lamp on leads in the place of the module's own, at 5 V between its pads: 3.2 V are left of 5 V for the resistor of a
/// red one, 1.6 kΩ at 2 mA; lit while it charges, dark while it runs. With a common plus the pad lies below it.
#[test]
fn a_lamp_led_outside_hangs_on_the_pads_of_the_module() {
    let lamp = |common: &str| {
        let hole = json!({"purpose": "lamp", "hole_mm": 5.0, "wall": "y_low", "along_mm": 30.0, "up_mm": 40.0, "shows": ["charging"],
            "lamp": {"keeps": false, "colour": "red", "common": common, "fed_v": 5.0}});
        let bay = json!([{"id": "bay", "name": "bay", "openings": [hole],
            "space": {"shape": "box", "length_mm": 200.0, "width_mm": 60.0, "depth_mm": 90.0}}]);
        with(&sound(), &[("device/compartments", bay)])
    };
    for common in ["cathode", "anode"] {
        let (charging, running) = (of(&lamp(common), Condition::Charging), of(&lamp(common), Condition::Running));
        assert!((reads(&charging, "pads of the lamp").unwrap() - 5.0).abs() < 1e-3, "{common}");
        assert!(reads(&running, "pads of the lamp").unwrap().abs() < 1e-3, "{common}");
        let block = charging.blocks.iter().find(|b| b.id == "lamp-bay-0").unwrap();
        assert!((block.current_a.unwrap().abs() - 0.002).abs() < 1e-6, "{block:?}");
        let written = serde_json::to_string(&charging.drawing).unwrap();
        assert!(written.contains("red, 1.6 kΩ"), "{common}: the resistor stands beside it");
        // What the pack takes is as it was.
        let pack = |d: &Diagram| reads(d, "the whole pack").unwrap();
        assert!((pack(&charging) - pack(&of(&sound(), Condition::Charging))).abs() < 1e-6);
    }
}

/// A hole for a lamp says where something shines, not that it hangs across the output.
#[test]
fn a_hole_for_a_lamp_wires_nothing() {
    let hole = json!({"purpose": "lamp", "hole_mm": 5.0, "wall": "y_low", "along_mm": 30.0, "up_mm": 40.0});
    let bay = json!([{"id": "bay", "name": "bay", "openings": [hole],
        "space": {"shape": "box", "length_mm": 200.0, "width_mm": 60.0, "depth_mm": 90.0}}]);
    let plan = with(&sound(), &[("device/compartments", bay)]);
    assert!(!plan.device.compartments[0].openings.is_empty());
    let blocks = |plan: &Plan| of(plan, Condition::Running).blocks.len();
    assert_eq!(blocks(&plan), blocks(&sound()));
}
