//! What must hold in every brick, whatever its counts, cells, place and edits.

use crate::common;

use std::collections::HashSet;

use brick_core::Plan;
use brick_core::advise::suggest::layouts::{offers, ways_out};
use brick_core::assess::{Severity, assess};
use brick_core::physics::brick::{
    Arrangement, Edit, Grid, Laid, Site, StepKind, Task, Wanted, arrangements, axes, draw, steps,
};
use brick_core::plan::{
    Axis, BoardSpace, CellSize, Choice, Clearances, Compartment, Edge, Lattice, Layout, Obstruction, Seat, Space, Wall,
};
use brick_core::print::sheets::sheets;
use common::sound;
use proptest::prelude::*;

fn round() -> impl Strategy<Value = CellSize> {
    prop::sample::select(vec![
        CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 },
        CellSize::Cylindrical { diameter_mm: 21.3, length_mm: 70.4 },
        CellSize::Cylindrical { diameter_mm: 14.2, length_mm: 50.3 },
    ])
}

fn any_cell() -> impl Strategy<Value = CellSize> {
    prop_oneof![
        3 => round(),
        1 => (4.0..14.0, 20.0..50.0, 40.0..120.0).prop_map(|(thickness_mm, width_mm, length_mm)| CellSize::Pouch { thickness_mm, width_mm, length_mm }),
        1 => (10.0..30.0, 30.0..80.0, 60.0..120.0).prop_map(|(thickness_mm, width_mm, length_mm)| CellSize::Prismatic { thickness_mm, width_mm, length_mm }),
    ]
}

fn room() -> impl Strategy<Value = Clearances> {
    (0.0..2.0, 0.2..2.0, 0.0..3.0, 0.0..5.0, any::<bool>()).prop_map(
        |(gap_mm, ends_mm, padding_mm, wires_mm, board)| {
            let board = board.then_some(BoardSpace { length_mm: 40.0, width_mm: 18.0, thickness_mm: 4.0 });
            Clearances { gap_mm, ends_mm, padding_mm, wires_mm, board, ..Clearances::default() }
        },
    )
}

fn place() -> impl Strategy<Value = Compartment> {
    let space = prop_oneof![
        4 => (40.0..260.0, 40.0..180.0, 25.0..160.0).prop_map(|(length_mm, width_mm, depth_mm)| Space::Box { length_mm, width_mm, depth_mm }),
        1 => (22.0..90.0, 80.0..400.0).prop_map(|(diameter_mm, length_mm)| Space::Cylinder { diameter_mm, length_mm }),
    ];
    let post = (0.0..200.0, 0.0..150.0, 0.0..60.0, 3.0..20.0).prop_map(|(x_mm, y_mm, z_mm, side_mm)| Obstruction {
        name: "post".into(),
        length_mm: side_mm,
        width_mm: side_mm,
        depth_mm: 2.0 * side_mm,
        x_mm,
        y_mm,
        z_mm,
        cut: false,
    });
    (space, prop::collection::vec(post, 0..3)).prop_map(|(space, obstructions)| Compartment {
        id: "bay".into(),
        name: "bay".into(),
        space,
        obstructions,
        openings: vec![],
        metal: None,
    })
}

/// Whether two cells of one layer share room: circles nearer than a diameter, rectangles that overlap.
fn overlap(grid: &Grid, a: Site, b: Site) -> bool {
    let ([ax, ay], [bx, by]) = (grid.middle_mm(a), grid.middle_mm(b));
    let [wide, high, _] = grid.cell_mm;
    if grid.form == brick_core::physics::brick::Form::Round {
        return (ax - bx).hypot(ay - by) < wide - 1e-6;
    }
    (ax - bx).abs() < wide - 1e-6 && (ay - by).abs() < high - 1e-6
}

/// Corners of a cell in the compartment, without strips.
fn corners(grid: &Grid, at_mm: [f64; 3], site: Site) -> ([f64; 3], [f64; 3]) {
    let middle = grid.middle_in_mm(site, at_mm);
    let (mut low, mut high) = (middle, middle);
    for (k, axis) in grid.axes.into_iter().enumerate() {
        low[axis.index()] -= grid.cell_mm[k] / 2.0;
        high[axis.index()] += grid.cell_mm[k] / 2.0;
    }
    (low, high)
}

fn check_inside(a: &Arrangement, task: &Task<'_>) -> Result<(), TestCaseError> {
    let grid = Grid::of(&a.layout, &task.size, task.clear);
    let sites: Vec<Site> = a.layout.cells.iter().map(Site::from).collect();
    prop_assert_eq!(sites.len(), (task.series * task.parallel) as usize);
    for (k, &site) in sites.iter().enumerate() {
        let (low, high) = corners(&grid, a.layout.at_mm, site);
        match task.place.space {
            Space::Box { length_mm, width_mm, depth_mm } => {
                for (i, room_mm) in [length_mm, width_mm, depth_mm].into_iter().enumerate() {
                    prop_assert!(low[i] > -1e-6 && high[i] < room_mm + 1e-6, "{:?} sticks out", site);
                }
            }
            Space::Cylinder { diameter_mm, length_mm } => {
                prop_assert!(low[0] > -1e-6 && high[0] < length_mm + 1e-6);
                let middle = grid.middle_in_mm(site, a.layout.at_mm);
                let off = (middle[1] - diameter_mm / 2.0).hypot(middle[2] - diameter_mm / 2.0);
                prop_assert!(off < diameter_mm / 2.0, "{:?} lies outside the tube", site);
            }
        }
        for &other in &sites[k + 1..] {
            prop_assert!(site.layer != other.layer || !overlap(&grid, site, other), "{:?} {:?}", site, other);
        }
        for o in &task.place.obstructions {
            // The middle line of a cell runs through nothing that stands in the way.
            let middle = grid.middle_in_mm(site, a.layout.at_mm);
            let ends = [o.x_mm, o.y_mm, o.z_mm].into_iter().zip([o.length_mm, o.width_mm, o.depth_mm]).enumerate();
            let along = grid.axes[2].index();
            let through = ends.into_iter().all(|(i, (from_mm, size_mm))| {
                let (l, h) = if i == along { (low[i], high[i]) } else { (middle[i], middle[i]) };
                l < from_mm + size_mm - 1e-6 && h > from_mm + 1e-6
            });
            prop_assert!(!through, "{:?} runs through {:?}", site, o);
        }
    }
    Ok(())
}

/// A sound plan with a pack of such cells in such a place.
fn plan_of(series: u32, parallel: u32, size: CellSize, clear: Clearances, place: Compartment) -> Plan {
    let mut plan = sound();
    plan.device.compartments = vec![place];
    let pack = &mut plan.packs[0];
    (pack.series, pack.parallel) = (Some(series), Some(parallel));
    pack.brick.clearances = clear;
    if let Choice::Chosen { part } = &mut pack.cell {
        part.size = size;
    }
    plan
}

fn any_layout() -> impl Strategy<Value = Layout> {
    let lattice = prop::sample::select(vec![Lattice::Square, Lattice::Staggered, Lattice::StaggeredShort]);
    let way = prop::sample::select(vec![(Axis::X, Axis::Y), (Axis::Z, Axis::X), (Axis::Y, Axis::Z)]);
    let at = prop::array::uniform3(-100.0..300.0);
    (lattice, way, 1u32..7, 1u32..7, 1u32..3, at, prop::sample::select(Wall::ALL.to_vec()), any::<u64>()).prop_flat_map(
        |(lattice, (axis, columns_along), columns, rows, layers, at_mm, wires_on, bits)| {
            let short = |r: u32| u32::from(lattice == Lattice::StaggeredShort && r % 2 == 1);
            let row = move |l: u32, r: u32| (0..columns - short(r)).map(move |c| (c, r, l));
            let all: Vec<(u32, u32, u32)> = (0..layers).flat_map(|l| (0..rows).flat_map(move |r| row(l, r))).collect();
            let count = all.len();
            prop::sample::subsequence(all, 0..=count).prop_shuffle().prop_map(move |sites| Layout {
                lattice,
                axis,
                columns_along,
                columns,
                rows,
                layers,
                at_mm,
                board_on: None,
                wires_on,
                cells: sites
                    .into_iter()
                    .enumerate()
                    .map(|(k, (column, row, layer))| Seat {
                        column,
                        row,
                        layer,
                        plus_up: bits >> (k % 64) & 1 == 1,
                        locked: false,
                    })
                    .collect(),
            })
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn what_fits_lies_inside_the_walls_and_clear_of_everything(
        size in any_cell(), clear in room(), bay in place(), series in 1u32..8, parallel in 1u32..5,
    ) {
        let task = Task { size, clear: &clear, place: &bay, series, parallel, wanted: Wanted::default() };
        for a in arrangements(&task).iter().filter(|a| a.fits) {
            check_inside(a, &task)?;
            prop_assert!(a.spare_mm.iter().all(|&mm| mm > -1e-6));
            prop_assert!(a.merit.is_some() && a.pattern.is_some());
        }
    }

    /// A larger box never loses an arrangement that the smaller one had: more room, at least as many ways.
    #[test]
    fn more_room_never_makes_what_fitted_not_fit(
        size in round(), length_mm in 60.0..200.0, width_mm in 40.0..120.0, depth_mm in 25.0..120.0, more_mm in 0.0..30.0,
        series in 1u32..6, parallel in 1u32..4,
    ) {
        let clear = Clearances::default();
        let bay = |more_mm: f64| Compartment {
            id: "bay".into(),
            name: "bay".into(),
            space: Space::Box { length_mm: length_mm + more_mm, width_mm: width_mm + more_mm, depth_mm: depth_mm + more_mm },
            obstructions: vec![],
            openings: vec![], metal: None,
        };
        let fits = |bay: &Compartment| {
            let task = Task { size: size.clone(), clear: &clear, place: bay, series, parallel, wanted: Wanted::default() };
            arrangements(&task).iter().any(|a| a.fits)
        };
        prop_assert!(!fits(&bay(0.0)) || fits(&bay(more_mm)));
    }

    /// Whatever a file says of a layout, it is judged, drawn, printed and edited without a panic.
    #[test]
    fn any_layout_is_judged_drawn_and_printed(
        layout in any_layout(), size in any_cell(), clear in room(), bay in place(), series in 1u32..6, parallel in 1u32..5,
        cell in 0usize..40, column in 0u32..9, row in 0u32..9,
    ) {
        let mut plan = plan_of(series, parallel, size, clear, bay);
        plan.packs[0].brick.layout = Some(layout);
        prop_assert!(plan.check().is_ok());
        let assessment = assess(&plan).unwrap();
        for sheet in sheets(&plan, &assessment, "2026-11-25") {
            prop_assert!(roxmltree::Document::parse(&sheet.svg).is_ok(), "{}", sheet.name);
        }
        let laid = Laid::of(&plan).unwrap();
        let drawing = draw(&laid);
        prop_assert_eq!(drawing.faces.is_empty(), !laid.suits());
        let _ = steps(&laid, &drawing);
        if laid.suits() {
            for change in [Edit::Move { cell, column, row, layer: 0 }, Edit::TurnCell { cell }, Edit::TurnGroup { group: cell }] {
                let _ = laid.edit(&change);
            }
        } else {
            prop_assert!(assessment.findings.iter().any(|f| f.rule == "brick.layout-for-other-counts"));
        }
    }

    /// A row of edits by hand, each made or refused, keeps every cell on a site of its own and every group of one mind.
    #[test]
    fn edits_by_hand_never_lose_a_cell_nor_make_a_short(
        edits in prop::collection::vec((0usize..12, 0u32..5, 0u32..4, 0u8..4), 1..25),
    ) {
        let bay = Compartment {
            id: "bay".into(),
            name: "bay".into(),
            space: Space::Box { length_mm: 300.0, width_mm: 200.0, depth_mm: 90.0 },
            obstructions: vec![],
            openings: vec![], metal: None,
        };
        let size = CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 };
        let mut plan = plan_of(4, 3, size, Clearances::default(), bay);
        let mut layout = arrangements(&Task::of(&plan).unwrap()).remove(0).layout;
        // Room to move.
        (layout.columns, layout.rows) = (5, 4);
        plan.packs[0].brick.layout = Some(layout);
        for (cell, column, row, what) in edits {
            let change = match what {
                0 | 1 => Edit::Move { cell, column, row, layer: 0 },
                2 => Edit::TurnCell { cell },
                _ => Edit::TurnGroup { group: cell % 4 },
            };
            let next = Laid::of(&plan).unwrap().edit(&change);
            if let Ok(next) = next {
                let sites: HashSet<Site> = next.cells.iter().map(Site::from).collect();
                prop_assert_eq!(sites.len(), 12);
                for group in next.cells.chunks(3) {
                    prop_assert!(group.iter().all(|s| s.plus_up == group[0].plus_up));
                }
                plan.packs[0].brick.layout = Some(next);
                prop_assert!(plan.check().is_ok());
            }
        }
    }

    /// Every face but the one at work is covered, whatever the counts, and every strip is welded once.
    #[test]
    fn the_order_of_welding_keeps_every_other_face_covered(size in any_cell(), series in 1u32..9, parallel in 1u32..7) {
        let bay = Compartment {
            id: "bay".into(),
            name: "bay".into(),
            space: Space::Box { length_mm: 600.0, width_mm: 600.0, depth_mm: 200.0 },
            obstructions: vec![],
            openings: vec![], metal: None,
        };
        let mut plan = plan_of(series, parallel, size, Clearances::default(), bay);
        let found = arrangements(&Task::of(&plan).unwrap());
        for a in found.into_iter().filter(|a| a.fits).take(3) {
            plan.packs[0].brick.layout = Some(a.layout);
            let laid = Laid::of(&plan).unwrap();
            let drawing = draw(&laid);
            let (mut bare, mut welded) = (HashSet::new(), HashSet::new());
            for step in steps(&laid, &drawing) {
                match (step.kind, step.face) {
                    (StepKind::Cover, _) => bare.clear(),
                    (StepKind::Bare, Some(face)) => prop_assert!(bare.is_empty() && bare.insert(face)),
                    (StepKind::Weld, Some(face)) => {
                        prop_assert_eq!(&bare, &HashSet::from([face]));
                        prop_assert!(step.strips.iter().all(|s| welded.insert((face, *s))), "welded twice");
                    }
                    _ => {}
                }
                prop_assert!(step.bare.len() <= 1);
            }
            prop_assert_eq!(welded.len(), drawing.faces.iter().map(|f| f.strips.len()).sum::<usize>());
        }
    }
}

/// Ways out are tried before they are told: each with changes makes the brick fit.
#[test]
fn every_way_out_with_changes_makes_the_brick_fit() {
    let mut told = HashSet::new();
    for (length_mm, width_mm, depth_mm) in [
        (80.0, 39.0, 71.0),
        (78.5, 40.0, 69.0),
        (77.0, 38.0, 68.4),
        (60.0, 45.0, 72.0),
        (82.0, 41.0, 40.0),
        (76.0, 20.0, 70.5),
    ] {
        let bay = Compartment {
            id: "bay".into(),
            name: "bay".into(),
            space: Space::Box { length_mm, width_mm, depth_mm },
            obstructions: vec![],
            openings: vec![],
            metal: None,
        };
        let size = CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 };
        let mut plan = plan_of(4, 2, size, Clearances::default(), bay);
        plan.packs[0].brick.layout = None;
        let found = offers(&plan).unwrap();
        if found.options.iter().any(|o| o.arrangement.fits) {
            continue;
        }
        for way in ways_out(&plan) {
            told.insert(way.name.split(' ').next().unwrap().to_owned());
            if way.changes.is_empty() {
                continue;
            }
            let changed = brick_core::plan::apply(&plan, &way.changes).unwrap();
            let after = assess(&changed).unwrap();
            let stops =
                after.findings.iter().filter(|f| f.severity == Severity::Stop && f.rule.starts_with("brick.does-not"));
            assert_eq!(stops.count(), 0, "“{}” in {length_mm} x {width_mm} x {depth_mm}", way.name);
        }
    }
    assert!(told.len() >= 3, "{told:?}");
}

/// The end of the pack comes out at the edge it is wanted at, when the lattice lets it.
#[test]
fn ends_come_out_where_they_are_wanted() {
    let bay = Compartment {
        id: "bay".into(),
        name: "bay".into(),
        space: Space::Box { length_mm: 200.0, width_mm: 120.0, depth_mm: 90.0 },
        obstructions: vec![],
        openings: vec![],
        metal: None,
    };
    let size = CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 };
    for (edge, at) in [(Edge::Left, 0usize), (Edge::Right, 3)] {
        let mut plan = plan_of(4, 2, size.clone(), Clearances::default(), bay.clone());
        plan.packs[0].brick.minus_at = Some(edge);
        let found = offers(&plan).unwrap();
        let straight = found.options.iter().find(|o| o.name == "4 × 2, upright").unwrap();
        let first = &straight.arrangement.layout.cells[..2];
        assert!(first.iter().any(|s| s.column as usize == at), "{edge:?}: {first:?}");
        plan.packs[0].brick.layout = Some(straight.arrangement.layout.clone());
        let drawing = draw(&Laid::of(&plan).unwrap());
        let lead =
            drawing.faces.iter().flat_map(|f| f.leads.iter().map(move |l| (f, l))).find(|(_, l)| l.node == 0).unwrap();
        let left = lead.1.x2_mm < 0.0;
        // On a turned face left and right change places.
        assert_eq!(left, (edge == Edge::Left) != lead.0.turned);
    }
    assert_eq!(axes(Axis::Z, Axis::Y), [Axis::Y, Axis::X, Axis::Z]);
}
