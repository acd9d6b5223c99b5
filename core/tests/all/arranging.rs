//! Arrangements in a compartment, worked by hand; tubes against known packings of circles; keep-outs.

use brick_core::physics::brick::{Arrangement, Laid, Site, Task, Wanted, arrangements};
use brick_core::plan::{Axis, BoardSpace, CellSize, Clearances, Compartment, Lattice, Obstruction, Space};

const CELL: CellSize = CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 };

fn bare() -> Clearances {
    Clearances {
        gap_mm: 0.0,
        ends_mm: 0.0,
        between_layers_mm: 0.0,
        wrap_mm: 0.0,
        padding_mm: 0.0,
        wires_mm: 0.0,
        ..Clearances::default()
    }
}

fn place(space: Space) -> Compartment {
    Compartment { id: "bay".into(), name: "bay".into(), space, obstructions: vec![], openings: vec![], metal: None }
}

fn cuboid(length_mm: f64, width_mm: f64, depth_mm: f64) -> Compartment {
    place(Space::Box { length_mm, width_mm, depth_mm })
}

fn post(x_mm: f64, y_mm: f64, side_mm: f64) -> Obstruction {
    Obstruction {
        name: "screw post".into(),
        length_mm: side_mm,
        width_mm: side_mm,
        depth_mm: 200.0,
        x_mm,
        y_mm,
        z_mm: 0.0,
        cut: false,
    }
}

fn task<'a>(size: &CellSize, clear: &'a Clearances, place: &'a Compartment, series: u32, parallel: u32) -> Task<'a> {
    Task { size: size.clone(), clear, place, series, parallel, wanted: Wanted::default() }
}

fn fitting(task: &Task<'_>) -> Vec<Arrangement> {
    arrangements(task).into_iter().filter(|a| a.fits).collect()
}

fn close(found: f64, wanted: f64) {
    assert!((found - wanted).abs() < 1e-6, "{found} against {wanted}");
}

/// By hand, eight cells 18.4 x 65.2 upright in 4 x 2: 4 x 18.4 + 3 x 0.5 = 75.1, 2 x 18.4 + 0.5 = 37.3, 65.2 + 2 x 1.0
/// = 67.2; wrap and foam add 3.0 to each; the wires, 3.0, go where most room is left, which is along the length.
#[test]
fn eight_upright_cells_take_what_was_worked_by_hand() {
    let (clear, bay) = (Clearances::default(), cuboid(92.0, 46.0, 74.0));
    let found = fitting(&task(&CELL, &clear, &bay, 4, 2));
    let upright = found
        .iter()
        .find(|a| a.layout.axis == Axis::Z && a.layout.lattice == Lattice::Square && a.layout.columns == 4)
        .expect("four columns of two stand in the bay");
    for (size_mm, wanted) in upright.fit.size_mm.into_iter().zip([81.1, 40.3, 70.2]) {
        close(size_mm, wanted);
    }
    for (spare_mm, wanted) in upright.spare_mm.into_iter().zip([10.9, 5.7, 3.8]) {
        close(spare_mm, wanted);
    }
    // Bars of two beside one another meet in both cells.
    assert_eq!(upright.merit.unwrap().narrowest, Some(2));
}

/// The same cells need 70.2 mm of depth and 40.3 mm of width: a hair less, and nothing fits.
#[test]
fn a_bay_that_is_a_hair_too_small_is_told_with_what_is_missing() {
    let clear = Clearances::default();
    assert!(!fitting(&task(&CELL, &clear, &cuboid(81.1, 40.3, 70.2), 4, 2)).is_empty());
    let bay = cuboid(81.1, 40.3, 70.1);
    let all = arrangements(&task(&CELL, &clear, &bay, 4, 2));
    assert!(!all.is_empty() && all.iter().all(|a| !a.fits));
    close(all[0].fit.tightest_mm() * 2.0, -0.1);
}

/// Diameter of the smallest circle round n equal circles, in their diameters: 2, 1 + 2 / sqrt 3, 1 + sqrt 2, 3 for 2, 3,
/// 4 and 7 (Kravitz 1967, from memory; each follows from the triangle, the square and the hexagon).
#[test]
fn cells_along_a_tube_are_packed_as_densely_as_circles_can_be() {
    let size = CellSize::Cylindrical { diameter_mm: 18.0, length_mm: 65.0 };
    let clear = bare();
    for (cells, diameters) in [(1, 1.0), (2, 2.0), (3, 1.0 + 2.0 / 3.0_f64.sqrt()), (4, 1.0 + 2.0_f64.sqrt()), (7, 3.0)]
    {
        let tube = |diameter_mm| place(Space::Cylinder { diameter_mm, length_mm: 65.0 });
        let fits = |diameter_mm: f64| !fitting(&task(&size, &clear, &tube(diameter_mm), cells, 1)).is_empty();
        assert!(fits(18.0 * diameters + 1e-6), "{cells} in {diameters} diameters");
        assert!(!fits(18.0 * diameters - 0.01), "{cells} in less than {diameters} diameters");
    }
}

/// A stick of three cells one behind another, by hand: 3 x 65 + 6 x 1.0 + 2 x 0.5 = 202 and 3.0 for wrap, foam and 3.0 for wires.
#[test]
fn a_stick_of_three_goes_into_a_handle() {
    let clear = Clearances::default();
    let size = CellSize::Cylindrical { diameter_mm: 18.0, length_mm: 65.0 };
    let handle = place(Space::Cylinder { diameter_mm: 21.0, length_mm: 208.0 });
    let found = fitting(&task(&size, &clear, &handle, 3, 1));
    assert_eq!(found.len(), 1, "{found:?}");
    assert_eq!((found[0].layout.layers, found[0].layout.axis), (3, Axis::X));
    close(found[0].spare_mm[0], 0.0);
    // The misses are named by the cells that would have to sit there, two or three side by side, not by the whole lattice.
    for miss in arrangements(&task(&size, &clear, &handle, 3, 1)).into_iter().filter(|a| !a.fits) {
        assert!(miss.layout.columns * miss.layout.rows <= 6 && miss.holds <= 4, "{:?}", miss.layout);
    }
    // One behind another there is no face on which a strip joins them.
    assert_eq!(found[0].merit.unwrap().wires, 2);
}

#[test]
fn cells_sit_round_a_post_and_never_in_it() {
    let clear = bare();
    let mut bay = cuboid(54.0, 54.0, 65.0);
    bay.obstructions = vec![post(22.0, 22.0, 10.0)];
    let size = CellSize::Cylindrical { diameter_mm: 18.0, length_mm: 65.0 };
    let found = fitting(&task(&size, &clear, &bay, 8, 1));
    assert!(!found.is_empty());
    for a in &found {
        assert!(a.layout.cells.iter().all(|s| (s.column, s.row) != (1, 1)), "{:?}", a.layout);
    }
    // Nine do not: the middle is taken.
    assert!(fitting(&task(&size, &clear, &bay, 9, 1)).is_empty());
    let all = arrangements(&task(&size, &clear, &bay, 9, 1));
    assert!(all.iter().any(|a| a.fit.in_the_way == ["screw post"]));
}

/// A square post of 3 mm fits the hollow between four round cells of 18 mm: by hand the hollow reaches (sqrt 2 - 1) x 9 =
/// 3.73 mm from its middle along the diagonal, the post 2.12 mm; one of 6 mm reaches 4.24 mm.
#[test]
fn a_thin_post_goes_into_the_hollow_between_round_cells() {
    let clear = bare();
    let size = CellSize::Cylindrical { diameter_mm: 18.0, length_mm: 65.0 };
    let with = |side_mm: f64| {
        let mut bay = cuboid(36.0, 36.0, 65.0);
        bay.obstructions = vec![post(18.0 - side_mm / 2.0, 18.0 - side_mm / 2.0, side_mm)];
        !fitting(&task(&size, &clear, &bay, 4, 1)).is_empty()
    };
    assert!(with(3.0));
    assert!(!with(6.0));
}

#[test]
fn a_board_takes_its_thickness_on_the_side_where_room_is_left() {
    let board = BoardSpace { length_mm: 60.0, width_mm: 20.0, thickness_mm: 4.0 };
    let clear = Clearances { board: Some(board), ..Clearances::default() };
    let fits = |bay: &Compartment| {
        fitting(&task(&CELL, &clear, bay, 4, 2)).into_iter().any(|a| a.layout.columns == 4 && a.layout.axis == Axis::Z)
    };
    // By hand: 37.3 + 3.0 + 4.0 = 44.3 across, wires along the length.
    assert!(fits(&cuboid(81.1, 44.3, 70.2)));
    assert!(!fits(&cuboid(81.1, 44.2, 70.2)));
}

/// A board of 60 x 20 beside cells that take 75.1 x 67.2: each post bars two of its four corners, both together all.
#[test]
fn posts_that_together_leave_the_board_no_corner_are_both_in_the_way() {
    let board = BoardSpace { length_mm: 60.0, width_mm: 20.0, thickness_mm: 8.0 };
    let clear = Clearances { board: Some(board), ..bare() };
    // Just long and deep enough that the board can only lie across the width, at the far side.
    let with = |names: &[(&str, f64)]| {
        let mut bay = cuboid(73.6, 44.8, 65.2);
        let bar = |&(name, z_mm): &(&str, f64)| Obstruction {
            name: name.into(),
            length_mm: 10.0,
            width_mm: 4.0,
            depth_mm: 5.0,
            x_mm: 32.0,
            y_mm: 40.8,
            z_mm,
            cut: false,
        };
        bay.obstructions = names.iter().map(bar).collect();
        arrangements(&task(&CELL, &clear, &bay, 4, 2))
    };
    assert!(with(&[]).iter().any(|a| a.fits));
    assert!(with(&[("lower bar", 8.0)]).iter().any(|a| a.fits));
    assert!(with(&[("upper bar", 52.0)]).iter().any(|a| a.fits));
    let both = with(&[("lower bar", 8.0), ("upper bar", 52.0)]);
    assert!(both.iter().all(|a| !a.fits));
    assert!(both.iter().any(|a| a.fit.in_the_way == ["lower bar", "upper bar"]), "{both:?}");
}

#[test]
fn every_arrangement_that_fits_seats_every_cell_inside_the_walls() {
    let clear = Clearances::default();
    for (bay, series, parallel) in
        [(cuboid(160.0, 70.0, 100.0), 7, 2), (cuboid(210.0, 200.0, 90.0), 10, 5), (cuboid(120.0, 75.0, 140.0), 6, 4)]
    {
        let found = fitting(&task(&CELL, &clear, &bay, series, parallel));
        assert!(!found.is_empty(), "{series}S{parallel}P");
        for a in found {
            assert_eq!(a.layout.cells.len(), (series * parallel) as usize);
            let sites: std::collections::HashSet<Site> = a.layout.cells.iter().map(Site::from).collect();
            assert_eq!(sites.len(), a.layout.cells.len());
            assert!(a.fit.low_mm.iter().chain(&a.fit.high_mm).all(|&mm| mm > -1e-6), "{:?}", a.fit);
        }
    }
}

#[test]
fn pouches_stand_in_stacks_with_all_tabs_on_one_side() {
    let size = CellSize::Pouch { thickness_mm: 8.0, width_mm: 42.0, length_mm: 100.0 };
    let clear = Clearances { swelling_share: 0.1, ..Clearances::default() };
    // By hand: 4 x 8.8 + 3 x 0.5 + 3.0 = 39.7; 42 + 3 = 45; 100 + 1 + 3 = 104, and 3.0 of wires along the length.
    let bay = cuboid(107.0, 45.0, 39.7);
    let found = fitting(&task(&size, &clear, &bay, 4, 1));
    assert_eq!(found.len(), 1, "{found:?}");
    assert_eq!((found[0].layout.axis, found[0].layout.columns_along), (Axis::X, Axis::Z));
    assert!(fitting(&task(&size, &clear, &cuboid(107.0, 45.0, 39.6), 4, 1)).is_empty());
}

/// A compartment may be taken out of the survey while the brick still names it.
#[test]
fn a_brick_whose_compartment_is_gone_goes_into_the_first() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../demo/plans/hedge-shears.brick.json");
    let mut plan = brick_core::Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap();
    let mut other = plan.device.compartments[0].clone();
    other.id = "lid".into();
    plan.device.compartments.push(other);
    plan.packs[0].brick.compartment = Some("lid".into());
    assert_eq!(Task::of(&plan).unwrap().place.id, "lid");
    plan.device.compartments.pop();
    assert_eq!(Task::of(&plan).unwrap().place.id, "handle");
    assert!(Laid::of(&plan).unwrap().fit().unwrap().fits());
}

#[test]
fn a_plan_without_a_place_says_what_is_missing() {
    let plan = brick_core::Plan::blank("pump");
    assert!(Task::of(&plan).unwrap_err().contains("cell"));
    assert!(Laid::of(&plan).is_none());
}
