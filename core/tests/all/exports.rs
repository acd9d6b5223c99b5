//! Files for other programs, read back: outlines, tables, and the holder as a closed surface.

use std::collections::HashMap;

use brick_core::Plan;
use brick_core::assess::{assess, network};
use brick_core::physics::brick::{Laid, Task, arrangements, draw};
use brick_core::plan::Lattice;
use brick_core::print::exports::{HolderMesh, holder, netlist, outlines, strips_csv, welds_csv};
use serde_json::Value;

fn file(name: &str) -> String {
    std::fs::read_to_string(format!("{}/../{name}", env!("CARGO_MANIFEST_DIR"))).unwrap()
}

fn demo(name: &str) -> Plan {
    Plan::from_json(&file(&format!("demo/plans/{name}.brick.json"))).unwrap()
}

fn rows(text: &str) -> Vec<HashMap<String, String>> {
    let mut reader = csv::Reader::from_reader(text.as_bytes());
    reader.deserialize().map(|row| row.unwrap()).collect()
}

const LAID: [&str; 3] = ["hedge-shears", "bait-boat", "star-tracker-mount"];

#[test]
fn the_tables_list_every_strip_and_every_weld_once() {
    for name in LAID {
        let plan = demo(name);
        let laid = Laid::of(&plan).unwrap();
        let (strips, welds) = (rows(&strips_csv(&plan).unwrap()), rows(&welds_csv(&plan).unwrap()));
        let drawn: Vec<_> = draw(&laid).faces.into_iter().flat_map(|f| f.strips).collect();
        assert_eq!(strips.len(), drawn.len());
        assert_eq!(welds.len(), drawn.iter().map(|s| s.joins.len()).sum::<usize>());
        let sum = |rows: &[HashMap<String, String>], column: &str| {
            rows.iter().map(|r| r[column].parse::<f64>().unwrap()).sum::<f64>()
        };
        assert_eq!(sum(&strips, "welds"), sum(&welds, "pulses"));
        let cut = network(&plan, None).unwrap().cut.unwrap();
        assert!(
            (sum(&strips, "mass_g") - cut.mass_g).abs() < 0.01
                && (sum(&strips, "length_mm") - cut.length_mm).abs() < 0.1
        );
        // By hand: a strip of 8 x 0.2 mm nickel over two cells 18.9 mm apart is 26.9 mm long and weighs 0.3834 g.
        if name == "hedge-shears" {
            assert_eq!((strips[0]["length_mm"].as_str(), strips[0]["mass_g"].as_str()), ("26.90", "0.383"));
        }
        let mut places: Vec<_> = welds.iter().map(|w| (&w["face"], &w["strip"], &w["cell"])).collect();
        places.sort();
        places.dedup();
        assert_eq!(places.len(), welds.len());
    }
}

/// The plate buys and weighs strips by the metre as they are cut: 14 strips of 26.9 mm in two layers are 0.7532 m.
#[test]
fn the_plate_counts_strips_as_they_are_cut() {
    let mut plan = demo("hedge-shears");
    let brick_core::plan::Choice::Chosen { part: strip } = &mut plan.packs[0].strip else { panic!("a strip") };
    strip.layers = 2;
    let dearer = {
        let mut dearer = plan.clone();
        let brick_core::plan::Choice::Chosen { part } = &mut dearer.packs[0].strip else { panic!("a strip") };
        part.offer.price = part.offer.price.map(|p| p + 10.0);
        dearer
    };
    let value = |plan: &Plan, id: &str| assess(plan).unwrap().figure(id).unwrap().value;
    assert!((value(&dearer, "plate.cost") - value(&plan, "plate.cost") - 7.532).abs() < 1e-9);
    // 26.9 x 8 x 0.2 mm of nickel, 8.908 g/cm3: 0.38340 g each.
    assert!((value(&plan, "brick.strips_g") - 28.0 * 0.383_40).abs() < 1e-3);
    let mut without = plan.clone();
    without.packs[0].brick.layout = None;
    let difference_g = value(&plan, "plate.mass_g") - value(&without, "plate.mass_g");
    assert!((difference_g - value(&plan, "brick.strips_g")).abs() < 1e-9, "{difference_g}");
}

#[test]
fn outlines_have_the_strips_size_and_faces_do_not_overlap() {
    for name in LAID {
        let plan = demo(name);
        let width_mm = plan.packs[0].strip.part().unwrap().width_mm;
        let faces = outlines(&plan).unwrap();
        let mut last_low = f64::MAX;
        for face in &faces {
            assert!(face.at_mm[1] + face.size_mm[1] < last_low);
            last_low = face.at_mm[1];
            for strip in &face.strips {
                let side = |a: usize, b: usize| {
                    let ([ax, ay], [bx, by]) = (strip.corners_mm[a], strip.corners_mm[b]);
                    (ax - bx).hypot(ay - by)
                };
                assert!((side(1, 2) - width_mm).abs() < 1e-9 && (side(0, 3) - width_mm).abs() < 1e-9);
                let [first, last] = [strip.welds_mm[0], strip.welds_mm[strip.welds_mm.len() - 1]];
                let welded_mm = (first[0] - last[0]).hypot(first[1] - last[1]);
                assert!((side(0, 1) - welded_mm - width_mm).abs() < 1e-9);
                // Every weld lies on a cell's middle.
                for w in &strip.welds_mm {
                    assert!(face.cells_mm.iter().any(|(c, _)| (c[0] - w[0]).hypot(c[1] - w[1]) < 1e-6), "{w:?}");
                }
            }
        }
    }
}

/// A pack planned from its cells up has no chemistry of its own yet: its cells' counts.
#[test]
fn cells_chosen_before_the_voltage_bring_their_chemistry() {
    let mut plan = demo("hedge-shears");
    let before = netlist(&plan).unwrap();
    plan.packs[0].chemistry = None;
    assert_eq!(netlist(&plan).unwrap(), before);
}

#[test]
fn without_layout_or_strip_there_is_no_file() {
    let mut plan = demo("hedge-shears");
    plan.packs[0].strip = brick_core::plan::Choice::Undecided;
    assert!(strips_csv(&plan).is_none() && netlist(&plan).is_none() && outlines(&plan).is_none());
    plan.packs[0].brick.layout = None;
    assert!(welds_csv(&plan).is_none());
    assert_eq!(holder(&plan).unwrap_err().to_string(), "lay the cells out first");
}

/// The shears' pack as a holder wants it: 1.2 mm between cells, laid out anew.
fn held(lattice: Lattice) -> Plan {
    let mut plan = demo("hedge-shears");
    plan.packs[0].brick.clearances.gap_mm = 1.2;
    plan.device.compartments.truncate(1);
    plan.device.compartments[0].obstructions.clear();
    plan.device.compartments[0].space =
        brick_core::plan::Space::Box { length_mm: 120.0, width_mm: 120.0, depth_mm: 90.0 };
    plan.packs[0].brick.layout = None;
    plan.packs[0].brick.compartment = None;
    let all = arrangements(&Task::of(&plan).unwrap());
    let found = all.into_iter().find(|a| a.fits && a.layout.lattice == lattice).unwrap();
    plan.packs[0].brick.layout = Some(found.layout);
    plan
}

/// Twice the signed area under each triangle, over three: the volume of a closed surface (divergence theorem).
fn volume_mm3(mesh: &HolderMesh) -> f64 {
    let of = |t: &[usize; 3]| {
        let [a, b, c] = t.map(|k| mesh.points_mm[k]);
        a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0])
    };
    mesh.triangles.iter().map(of).sum::<f64>() / 6.0
}

/// Every edge is walked once each way, and the surface has as many handles as the plate has holes.
#[test]
fn a_holder_is_a_closed_surface_with_a_hole_for_each_cell() {
    for lattice in [Lattice::Square, Lattice::Staggered] {
        let mesh = holder(&held(lattice)).unwrap();
        let mut edges: HashMap<(usize, usize), i32> = HashMap::new();
        for t in &mesh.triangles {
            for k in 0..3 {
                *edges.entry((t[k], t[(k + 1) % 3])).or_default() += 1;
            }
        }
        assert!(
            edges.iter().all(|(&(a, b), &n)| n == 1 && edges.get(&(b, a)) == Some(&1)),
            "{lattice:?} is not closed"
        );
        let euler = mesh.points_mm.len() as i64 - edges.len() as i64 / 2 + mesh.triangles.len() as i64;
        assert_eq!(euler, 2 - 2 * 8, "a plate with eight holes");
    }
}

/// By hand, 8 mm high with a floor of 1 mm: the rim's box less eight prisms whose 64 sides touch circles of 18.6 and
/// 14.4 mm; such a polygon has an area of 64 r² tan(pi/64).
#[test]
fn a_holder_is_as_large_as_worked_by_hand() {
    let mesh = holder(&held(Lattice::Square)).unwrap();
    // Four by two cells 19.6 mm apart, 9.3 mm of seat and 2 mm of wall round the outer ones.
    let wanted = [3.0 * 19.6 + 2.0 * 11.3, 19.6 + 2.0 * 11.3, 8.0];
    let (mut size, mut sorted) = (mesh.size_mm, wanted);
    size.sort_by(f64::total_cmp);
    sorted.sort_by(f64::total_cmp);
    assert!(size.iter().zip(sorted).all(|(a, b)| (a - b).abs() < 1e-9), "{size:?}");
    let polygon = |d: f64| 64.0 * (d / 2.0).powi(2) * (std::f64::consts::PI / 64.0).tan();
    let volume = wanted.iter().product::<f64>() - 8.0 * (7.0 * polygon(18.6) + polygon(14.4));
    assert!((volume_mm3(&mesh) / volume - 1.0).abs() < 1e-9, "{}", volume_mm3(&mesh));
    assert!((mesh.wall_mm - 1.0).abs() < 1e-9);
}

/// reference/holder: the same surfaces, written as STL and read by trimesh.
#[test]
fn an_independent_library_found_the_holders_closed_and_of_this_volume() {
    let kept: Value = serde_json::from_str(&file("reference/holder/results.json")).unwrap();
    for (lattice, name) in [(Lattice::Square, "square"), (Lattice::Staggered, "staggered")] {
        let (mesh, found) = (holder(&held(lattice)).unwrap(), &kept["holders"][name]);
        assert_eq!(found["watertight"], true);
        assert_eq!(found["winding_consistent"], true);
        assert_eq!(found["triangles"].as_u64().unwrap() as usize, mesh.triangles.len());
        let close = |a: f64, b: f64| (a / b - 1.0).abs() < 1e-5;
        assert!(close(found["volume_mm3"].as_f64().unwrap(), volume_mm3(&mesh)), "{name}");
        for k in 0..3 {
            assert!(close(found["size_mm"][k].as_f64().unwrap(), mesh.size_mm[k]), "{name}");
        }
    }
}

#[test]
fn a_holder_that_cannot_be_says_what_would_do() {
    let mut plan = held(Lattice::Square);
    plan.packs[0].brick.holder.lip_mm = 8.0;
    assert_eq!(
        holder(&plan).unwrap_err().to_string(),
        "a lip of 8 mm leaves no opening to weld through: at most 7.2 mm on this cell"
    );
    plan.packs[0].brick.clearances.gap_mm = 0.5;
    let said = holder(&plan).unwrap_err().to_string();
    assert!(said.contains("needs 1 mm between cells"), "{said}");
}
