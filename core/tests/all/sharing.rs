//! Currents in a brick against circuits solved elsewhere, and what must hold in any brick.

use brick_core::Plan;
use brick_core::assess::{assess, network};
use brick_core::physics::brick::{Circuit, JointWire, Laid, Resistor, Sharing, Task, Terminal, arrangements};
use brick_core::physics::run::{Joined, Sharer};
use brick_core::plan::{Choice, Joining, Space, Strip, StripMetal, TakeOff, WireSize};
use brick_core::print::exports::netlist;
use serde_json::Value;

/// The ladders ask for 0.1 %; both solvers are exact, so that only the printed digits differ.
const LADDER_TOLERANCE: f64 = 1e-6;
const JOINT: JointWire = JointWire { ohm_per_mm: 8.3e-6, limit_a: Some(20.0) };

fn reference(name: &str) -> String {
    let path = format!("{}/../reference/{name}", env!("CARGO_MANIFEST_DIR"));
    std::fs::read_to_string(&path).unwrap_or_else(|e| panic!("{path}: {e}"))
}

fn plan(name: &str) -> Plan {
    Plan::from_json(&reference(&format!("network/{name}.brick.json"))).unwrap()
}

fn numbers(value: &Value) -> Vec<f64> {
    value.as_array().into_iter().flatten().map(|v| v.as_f64().unwrap()).collect()
}

fn near(what: &str, found: f64, wanted: f64, tolerance: f64) {
    assert!((found - wanted).abs() <= tolerance * (1.0 + wanted.abs()), "{what}: {found}, not {wanted}");
}

/// reference/circuits, ngspice 39: cells side by side on two rails of strips, loaded at one end or diagonally, at rest
/// with unequal volts, and charged.
#[test]
fn ladders_of_cells_share_their_current_as_another_solver_says() {
    let results: Value = serde_json::from_str(&reference("circuits/results.json")).unwrap();
    let ladders: Vec<&Value> =
        results["cases"].as_array().unwrap().iter().filter(|c| c["kind"] == "parallel_ladder").collect();
    assert_eq!(ladders.len(), 8);
    for case in ladders {
        let (given, wanted) = (&case["inputs"], &case["outputs"]);
        let emf_v = numbers(&given["emf_v"]);
        let at = |name: &str| Terminal { cell: name[1..].parse::<usize>().unwrap() - 1, plus: name.starts_with('p') };
        let rail = |key: &str, plus: bool| {
            let strips = numbers(&given[key]).into_iter().enumerate();
            strips.map(move |(k, ohm)| Resistor { ends: [k, k + 1].map(|cell| Terminal { cell, plus }), ohm })
        };
        let [plus, minus] = [0, 1].map(|k| at(given["load_at"][k].as_str().unwrap()));
        let circuit = Circuit {
            cell_ohm: numbers(&given["r_cell_ohm"]),
            resistors: rail("r_pos_strip_ohm", true).chain(rail("r_neg_strip_ohm", false)).collect(),
            minus: vec![minus],
            plus: vec![plus],
        };
        let solver = circuit.solver().unwrap();
        // A load of so many ohm draws what the volts without load drive through it and the circuit.
        let open_v = solver.flow(&emf_v, 0.0).pack_v;
        let inner_ohm = open_v - solver.flow(&emf_v, 1.0).pack_v;
        let load_a = match given["r_load_ohm"].as_f64() {
            Some(ohm) => open_v / (ohm + inner_ohm),
            None => given["i_load_a"].as_f64().unwrap_or(0.0),
        };
        let flow = solver.flow(&emf_v, load_a);
        let id = case["id"].as_str().unwrap();
        near(&format!("{id}, load"), load_a, wanted["load_current_a"].as_f64().unwrap(), LADDER_TOLERANCE);
        near(&format!("{id}, volts"), flow.pack_v, wanted["load_voltage_v"].as_f64().unwrap(), LADDER_TOLERANCE);
        // The simulated run shares it the same way.
        let count = emf_v.len();
        let mut sharer =
            Sharer::new(&Joined::Strips { parallel: count, contacts_ohm: 0.0, circuit: circuit.clone() }, count)
                .unwrap();
        let mut shared_a = vec![0.0; count];
        sharer.take(&emf_v, &circuit.cell_ohm, &shared_a).unwrap();
        sharer.divide(load_a, &mut shared_a);
        near(&format!("{id}, volts in a run"), sharer.rest_v - load_a * sharer.ohm, flow.pack_v, LADDER_TOLERANCE);
        for (k, a) in numbers(&wanted["cell_currents_a"]).into_iter().enumerate() {
            near(&format!("{id}, cell {k}"), flow.cell_a[k], a, LADDER_TOLERANCE);
            near(&format!("{id}, cell {k} in a run"), shared_a[k], a, LADDER_TOLERANCE);
        }
        // There the current of a strip counts toward cell 1 on the plus rail, away from it on the minus rail.
        let strips = numbers(&given["r_pos_strip_ohm"]).len();
        for (k, a) in numbers(&wanted["pos_strip_currents_a"]).into_iter().enumerate() {
            near(&format!("{id}, plus strip {k}"), -flow.resistor_a[k], a, LADDER_TOLERANCE);
        }
        for (k, a) in numbers(&wanted["neg_strip_currents_a"]).into_iter().enumerate() {
            near(&format!("{id}, minus strip {k}"), flow.resistor_a[strips + k], a, LADDER_TOLERANCE);
        }
    }
}

/// reference/network, ngspice 39 on the netlists that this program writes: the shears' pack, and a staggered one whose
/// cells were read one by one. The netlist must still be the one that was solved.
#[test]
fn laid_bricks_share_their_current_as_another_solver_says() {
    let results: Value = serde_json::from_str(&reference("network/results.json")).unwrap();
    for case in results["cases"].as_array().unwrap() {
        let name = case["name"].as_str().unwrap();
        let plan = plan(name);
        assert_eq!(netlist(&plan).unwrap(), reference(&format!("network/{name}.cir")), "solve {name} anew");
        let report = network(&plan, None).unwrap();
        assert_eq!(report.cells.len(), case["cell_a"].as_object().unwrap().len());
        for cell in &report.cells {
            near(&cell.label, cell.current_a, case["cell_a"][&cell.label].as_f64().unwrap(), 1e-5);
        }
        for (k, segment) in report.segments.iter().enumerate() {
            if let Some(a) = case["strip_a"].get(format!("RS{}", k + 1)) {
                near(&format!("{name} strip {}", k + 1), segment.current_a, a.as_f64().unwrap().abs(), 1e-4);
            }
        }
        let emf_v = plan.packs[0].chemistry.unwrap().facts().nominal_v * f64::from(plan.packs[0].series.unwrap());
        let lost_v = emf_v - case["pack_v"].as_f64().unwrap();
        let ohm = report.levels[0].heat_w / report.levels[0].current_a.powi(2);
        near(name, report.current_a * ohm, lost_v, 1e-6);
    }
}

fn strip(thickness_mm: f64, layers: u32) -> Strip {
    Strip {
        offer: Default::default(),
        metal: StripMetal::Nickel,
        width_mm: 8.0,
        thickness_mm,
        layers,
        side_by_side: 1,
        length_mm: 20.0,
    }
}

/// Bricks of many shapes: every arrangement that fits a roomy box.
fn bricks(series: u32, parallel: u32) -> Vec<Plan> {
    bricks_in(Space::Box { length_mm: 260.0, width_mm: 180.0, depth_mm: 160.0 }, series, parallel)
}

fn bricks_in(space: Space, series: u32, parallel: u32) -> Vec<Plan> {
    let mut plan = plan("five_staggered");
    plan.packs[0].groups.clear();
    plan.device.compartments[0].space = space;
    (plan.packs[0].series, plan.packs[0].parallel) = (Some(series), Some(parallel));
    let task = Task::of(&plan).unwrap();
    let laid = |layout| {
        let mut plan = plan.clone();
        plan.packs[0].brick.layout = Some(layout);
        plan
    };
    arrangements(&task).into_iter().filter(|a| a.fits).map(|a| laid(a.layout)).collect()
}

#[test]
fn shares_of_a_group_make_one_and_heat_accounts_for_all_resistance() {
    let mut solved = 0;
    for (series, parallel) in [(1, 4), (3, 1), (4, 3), (6, 5), (5, 8)] {
        for plan in bricks(series, parallel) {
            let laid = Laid::of(&plan).unwrap();
            for take_off in [None].into_iter().chain(TakeOff::ALL.map(Some)) {
                let Some(sharing) = Sharing::of(&laid, &strip(0.15, 1), 0.02, JOINT, take_off) else { continue };
                solved += 1;
                for group in sharing.cell_share.chunks(parallel as usize) {
                    near("sum of a group", group.iter().sum(), 1.0, 1e-9);
                }
                // Tellegen: what the leads put in is what the resistances turn into heat.
                near("heat", sharing.heat_w_per_a2().iter().sum(), sharing.ohm, 1e-9);
                assert!(sharing.joints_ohm > -1e-12, "{}", sharing.joints_ohm);
            }
        }
    }
    assert!(solved > 100, "{solved}");
}

#[test]
fn more_metal_bears_more_and_feeding_every_cell_shares_best() {
    for plan in bricks(4, 5) {
        let laid = Laid::of(&plan).unwrap();
        let of = |layers, take_off| Sharing::of(&laid, &strip(0.15, layers), 0.02, JOINT, Some(take_off));
        let (Some(one), Some(two)) = (of(1, TakeOff::SameEnd), of(2, TakeOff::SameEnd)) else { continue };
        let carries = |s: &Sharing| s.weakest().unwrap().1;
        assert!(carries(&two) > carries(&one) && two.uneven() <= one.uneven() && two.joints_ohm < one.joints_ohm);
        let all = of(1, TakeOff::EveryCell).unwrap();
        assert!(all.uneven() <= one.uneven() + 1e-12, "{} {}", all.uneven(), one.uneven());
        assert!(all.joints_ohm < one.joints_ohm);
    }
}

/// By hand, two cells of 20 milliohm side by side, rails of 0.82 milliohm from one to the other, both wires on the
/// first: it carries (20 + 2 x 0.82) / (40 + 2 x 0.82) = 51.969 % of the current; with the wires on opposite cells both
/// see one rail and share evenly.
#[test]
fn two_cells_share_as_worked_by_hand() {
    let plan = &bricks(1, 2)[0];
    let laid = Laid::of(plan).unwrap();
    let share = |take_off| Sharing::of(&laid, &strip(0.2, 1), 0.02, JOINT, Some(take_off)).unwrap();
    let rail_ohm = share(TakeOff::SameEnd).segments[0].ohm;
    // 18.4 mm cells 0.5 mm apart: 6.93e-8 x 0.0189 / 1.6e-6.
    near("rail", rail_ohm, 0.000_818_606, 1e-6);
    near("same end", share(TakeOff::SameEnd).most_loaded().1 / 2.0, 0.519_66, 1e-4);
    near("diagonal", share(TakeOff::Diagonal).most_loaded().1 / 2.0, 0.5, 1e-9);
    near("every cell", share(TakeOff::EveryCell).joints_ohm, 0.0, 1e-9);
}

/// A pair of which one has twice the resistance carries 2 : 1 whatever the strips; the layout is not to blame.
#[test]
fn unequal_cells_are_not_laid_to_the_strips() {
    let mut plan = plan("five_staggered");
    let laid = Laid::of(&plan).unwrap();
    let sharing = Sharing::of(&laid, &strip(0.3, 4), 0.02, JOINT, Some(TakeOff::EveryCell)).unwrap();
    assert!(sharing.most_loaded().1 > 1.1, "{}", sharing.most_loaded().1);
    assert!(sharing.uneven() < 1.02, "{}", sharing.uneven());
    plan.packs[0].brick.joined_by = Some(Joining::Springs);
    let sprung = Laid::of(&plan).unwrap();
    let sprung = Sharing::of(&sprung, &strip(0.3, 4), 0.02, JOINT, Some(TakeOff::EveryCell)).unwrap();
    assert!(sprung.most_loaded().1 < sharing.most_loaded().1, "contacts of a tenth of an ohm even the cells out");
}

/// In a well of two by two cells, two layers: only the wire between the layers carries the current, all of it.
#[test]
fn a_link_that_only_a_wire_makes_carries_everything() {
    let mut found = 0;
    let well = Space::Box { length_mm: 60.0, width_mm: 52.0, depth_mm: 150.0 };
    for mut plan in bricks_in(well, 4, 2) {
        // A thin lead is the weakest of all: the pack's limit is its, and the working says so.
        let thin = plan.connections.iter_mut().find_map(|r| match &mut r.wire {
            Choice::Chosen { part } => Some(part),
            _ => None,
        });
        thin.unwrap().size = WireSize::Awg { awg: 24 };
        let assessment = assess(&plan).unwrap();
        let value = |id: &str| assessment.figure(id).unwrap().value;
        near("limit", value("strip.limit_a"), value("joint.limit_a") / value("joint.share"), 1e-9);
        let told = assessment.findings.iter().find(|f| f.rule == "brick.strip-over-current").unwrap();
        assert!(told.why.text.contains("a wire that joins two pieces"), "{}", told.why.text);
        let laid = Laid::of(&plan).unwrap();
        let Some(sharing) = Sharing::of(&laid, &strip(0.3, 4), 0.02, JOINT, None) else { continue };
        for (k, segment) in sharing.segments.iter().enumerate().filter(|(_, s)| s.strip.is_none()) {
            let joined = laid.pieces().iter().filter(|p| p.node == segment.node);
            if joined.map(|p| p.lines.iter().map(|l| l.crossings).sum::<usize>()).sum::<usize>() == 0 {
                near("wire", sharing.segment_share[k].abs(), 1.0, 1e-9);
                assert_eq!(sharing.segment_limit_a(k), 20.0);
                found += 1;
            }
        }
    }
    assert!(found > 0);
}

#[test]
fn what_is_missing_for_a_network_is_said() {
    let mut plan = plan("two_side_by_side");
    let missing = |plan: &Plan| network(plan, None).unwrap().missing.unwrap_or_default();
    assert_eq!(missing(&plan), "");
    let strip = plan.packs[0].strip.clone();
    plan.packs[0].strip = Choice::Undecided;
    assert!(missing(&plan).contains("Choose the strip"));
    plan.packs[0].strip = Choice::None;
    assert!(missing(&plan).contains("has no strips"));
    plan.packs[0].strip = strip;
    let mut unknown = plan.clone();
    unknown.packs[0].chemistry = None;
    if let Choice::Chosen { part } = &mut unknown.packs[0].cell {
        part.dcir_ohm = None;
    }
    assert!(missing(&unknown).contains("resistance"), "{}", missing(&unknown));
    plan.packs[0].brick.layout = None;
    assert!(missing(&plan).contains("Lay the cells out"));
}

/// The path and the report rest on one network, and a plan without a layout on the strip as stated.
#[test]
fn the_path_takes_its_strips_from_the_network() {
    let plan = plan("two_side_by_side");
    let (assessment, report) = (assess(&plan).unwrap(), network(&plan, None).unwrap());
    let strips = assessment.path.links.iter().find(|l| l.id == "strips").unwrap();
    let weakest = &report.segments[report.weakest.unwrap()];
    near("limit", strips.continuous_a.unwrap(), weakest.limit_a.unwrap() / weakest.pack_share, 1e-9);
    let mut without = plan.clone();
    without.packs[0].brick.layout = None;
    let assessment = assess(&without).unwrap();
    let stated = brick_core::physics::brick::link_limit_a(without.packs[0].strip.part().unwrap());
    let strips = assessment.path.links.iter().find(|l| l.id == "strips").unwrap();
    near("stated", strips.continuous_a.unwrap(), stated, 1e-9);
    assert!(assessment.figure("brick.most_share").is_none());
}

/// The same cells on the same sites, numbered otherwise within their groups, share the same currents.
#[test]
fn the_order_of_cells_in_a_group_decides_nothing() {
    let plan = plan("two_side_by_side");
    let mut other = plan.clone();
    let layout = other.packs[0].brick.layout.as_mut().unwrap();
    (0..4).for_each(|g| layout.cells.swap(2 * g, 2 * g + 1));
    let sorted = |plan: &Plan| {
        let mut shares: Vec<f64> = network(plan, None).unwrap().cells.iter().map(|c| c.even_share).collect();
        shares.sort_by(f64::total_cmp);
        shares
    };
    for (a, b) in sorted(&plan).into_iter().zip(sorted(&other)) {
        near("share", a, b, 1e-9);
    }
}
