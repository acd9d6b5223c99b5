//! Groups on the lattice: whole, alternating, joined by strips; judged by a graph and by trying everything.

use std::collections::{HashMap, HashSet};

use brick_core::base::progress::Unwatched;
use brick_core::physics::brick::{Drawing, Grid};
use brick_core::physics::brick::{
    Edit, Fault, Laid, LeadKind, Refused, Search, Seating, Site, StepKind, Task, Wanted, arrangements, axes,
    best_of_each, draw, faults, near, patterns, pieces, seats, steps,
};
use brick_core::plan::{Axis, CellSize, Clearances, Compartment, Lattice, Layout, Plan, Space, Wall};
use proptest::prelude::*;

use crate::common;
use common::sound;

const CELL: CellSize = CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 };

fn grid(lattice: Lattice, columns: u32, rows: u32) -> Grid {
    Grid::new(&CELL, &Clearances::default(), lattice, axes(Axis::Z, Axis::X), [columns, rows, 1])
}

/// A sound plan with so many cells, laid out in a roomy box by the best arrangement.
fn laid_out(series: u32, parallel: u32, size: CellSize) -> Plan {
    let mut plan = sound();
    plan.device.compartments = vec![Compartment {
        id: "bay".into(),
        name: "bay".into(),
        space: Space::Box { length_mm: 400.0, width_mm: 300.0, depth_mm: 90.0 },
        obstructions: vec![],
        openings: vec![],
        metal: None,
    }];
    let pack = &mut plan.packs[0];
    (pack.series, pack.parallel) = (Some(series), Some(parallel));
    if let brick_core::plan::Choice::Chosen { part } = &mut pack.cell {
        part.size = size;
    }
    let layout = arrangements(&Task::of(&plan).unwrap()).remove(0).layout;
    plan.packs[0].brick.layout = Some(layout);
    plan
}

/// Terminals that a strip of the drawing covers: every terminal within a micrometre of the line between its ends.
fn covered(drawing: &Drawing) -> Vec<Vec<(usize, bool)>> {
    let mut found = vec![];
    for face in &drawing.faces {
        for strip in &face.strips {
            let (dx, dy) = (strip.x2_mm - strip.x1_mm, strip.y2_mm - strip.y1_mm);
            let on = |x: f64, y: f64| {
                let t = (((x - strip.x1_mm) * dx + (y - strip.y1_mm) * dy) / (dx * dx + dy * dy)).clamp(0.0, 1.0);
                (x - strip.x1_mm - t * dx).hypot(y - strip.y1_mm - t * dy) < 1e-3
            };
            let under = face.cells.iter().flat_map(|c| c.terminals.iter().map(move |t| (c.cell, t)));
            let under = under.filter(|(_, t)| on(t.x_mm, t.y_mm)).map(|(cell, t)| (cell, t.plus)).collect();
            found.push(under);
        }
    }
    found
}

/// Joins terminals by what lies under the strips as drawn, and asks which potentials came together.
fn check_as_drawn(plan: &Plan) {
    let laid = Laid::of(plan).unwrap();
    let drawing = draw(&laid);
    let mut name: HashMap<(usize, bool), usize> = HashMap::new();
    let count = laid.series * laid.parallel;
    let mut root: Vec<usize> = (0..2 * count).collect();
    for cell in 0..count {
        name.insert((cell, false), 2 * cell);
        name.insert((cell, true), 2 * cell + 1);
    }
    fn find(root: &mut [usize], mut k: usize) -> usize {
        while root[k] != k {
            root[k] = root[root[k]];
            k = root[k];
        }
        k
    }
    for under in covered(&drawing) {
        for pair in under.windows(2) {
            let (a, b) = (find(&mut root, name[&pair[0]]), find(&mut root, name[&pair[1]]));
            root[a] = b;
        }
    }
    // A terminal's potential by arithmetic alone: plus of group k is k + 1.
    let potential = |cell: usize, plus: bool| cell / laid.parallel + usize::from(plus);
    let mut of_root: HashMap<usize, HashSet<usize>> = HashMap::new();
    for cell in 0..count {
        for plus in [false, true] {
            let r = find(&mut root, name[&(cell, plus)]);
            of_root.entry(r).or_default().insert(potential(cell, plus));
        }
    }
    assert!(of_root.values().all(|p| p.len() == 1), "a strip joins two potentials");
    let joints: usize = drawing.faces.iter().flat_map(|f| &f.leads).filter(|l| l.kind == LeadKind::Joint).count();
    assert_eq!(of_root.len(), laid.series + 1 + joints, "every piece hangs together, wires join the rest");
}

#[test]
fn strips_as_drawn_join_each_potential_and_no_two() {
    for (series, parallel) in [(1, 1), (4, 2), (7, 3), (10, 4), (13, 1), (16, 10)] {
        check_as_drawn(&laid_out(series, parallel, CELL));
    }
    let pouch = CellSize::Pouch { thickness_mm: 8.0, width_mm: 42.0, length_mm: 70.0 };
    check_as_drawn(&laid_out(4, 2, pouch));
}

#[test]
fn every_pattern_of_a_lattice_joins_as_drawn() {
    let mut plan = laid_out(12, 4, CELL);
    for lattice in [Lattice::Square, Lattice::Staggered, Lattice::StaggeredShort] {
        let base = plan.packs[0].brick.layout.as_mut().unwrap();
        (base.lattice, base.columns, base.rows, base.layers) = (lattice, 8, 7, 1);
        let found = Laid::of(&plan).unwrap().patterns();
        assert!(!found.is_empty());
        let mut told = vec![];
        for (pattern, layout) in found {
            assert!(!told.contains(&pattern));
            told.push(pattern);
            let mut one = plan.clone();
            one.packs[0].brick.layout = Some(layout);
            check_as_drawn(&one);
        }
    }
}

/// Every face but the one being welded is covered, each strip is welded once, each tap put on once, the ends last.
#[test]
fn no_face_lies_bare_while_another_is_welded() {
    let pouch = CellSize::Pouch { thickness_mm: 8.0, width_mm: 42.0, length_mm: 70.0 };
    for (series, parallel, size) in [(4, 2, CELL), (16, 10, CELL), (4, 1, pouch)] {
        let plan = laid_out(series, parallel, size);
        let laid = Laid::of(&plan).unwrap();
        let drawing = draw(&laid);
        let (mut bare, mut welded, mut wired): (HashSet<usize>, Vec<(usize, usize)>, Vec<usize>) = Default::default();
        for step in steps(&laid, &drawing) {
            match (step.kind, step.face) {
                (StepKind::Cover, _) => bare.clear(),
                (StepKind::Bare, Some(face)) => {
                    assert!(bare.is_empty(), "{}", step.what);
                    bare.insert(face);
                }
                (StepKind::Weld, Some(face)) => {
                    assert_eq!(bare, HashSet::from([face]), "{}", step.what);
                    welded.extend(step.strips.iter().map(|&s| (face, s)));
                }
                (StepKind::Wire, Some(_)) => wired.extend(step.nodes),
                _ => {}
            }
        }
        let all: Vec<(usize, usize)> = drawing
            .faces
            .iter()
            .enumerate()
            .flat_map(|(f, face)| face.strips.iter().map(move |s| (f, s.strip)))
            .collect();
        assert_eq!(welded.len(), all.len());
        assert_eq!(welded.into_iter().collect::<HashSet<_>>(), all.into_iter().collect());
        let ends = &wired[wired.len() - 2..];
        assert_eq!(ends, [0, series as usize]);
        assert_eq!(wired.iter().collect::<HashSet<_>>().len(), series as usize + 1);
    }
}

/// The bottom is what one sees after turning the brick over from left to right: by hand, a cell at x is seen at width - x,
/// at the same height, and shows its other terminal.
#[test]
fn the_bottom_is_seen_turned_from_left_to_right() {
    let plan = laid_out(4, 2, CELL);
    let drawing = draw(&Laid::of(&plan).unwrap());
    let [top, bottom] = &drawing.faces[..] else { panic!("two faces") };
    assert!(!top.turned && bottom.turned);
    for cell in &top.cells {
        let other = bottom.cells.iter().find(|c| c.cell == cell.cell).unwrap();
        assert!((other.x_mm - (top.width_mm - cell.x_mm)).abs() < 1e-9 && (other.y_mm - cell.y_mm).abs() < 1e-9);
        assert_ne!(other.terminals[0].plus, cell.terminals[0].plus);
    }
    let leads = drawing.faces.iter().flat_map(|f| &f.leads).map(|l| l.node).collect::<HashSet<_>>();
    assert_eq!(leads.len(), 5, "a lead for each of B0 to B4");
}

#[test]
fn turning_one_cell_of_a_group_is_refused_as_a_short() {
    let plan = laid_out(4, 2, CELL);
    let laid = Laid::of(&plan).unwrap();
    let refused = laid.edit(&Edit::TurnCell { cell: 2 }).unwrap_err();
    assert!(matches!(&refused, Refused::Short { group: 2, .. }), "{refused}");
    assert!(refused.to_string().contains("2a") && refused.to_string().contains("B1 to B2"), "{refused}");
    // With one cell a group there is nothing to stand against: the joint is on the other face then.
    let single = laid_out(4, 1, CELL);
    let layout = Laid::of(&single).unwrap().edit(&Edit::TurnCell { cell: 1 }).unwrap();
    let laid = Laid::of(&single).unwrap();
    let found = faults(&layout, &laid.grid, 4, 1);
    assert_eq!(found, [Fault::Faces { group: 1 }, Fault::Faces { group: 2 }]);
}

#[test]
fn a_moved_cell_changes_places_and_a_locked_or_missing_one_does_not() {
    let plan = laid_out(4, 2, CELL);
    let laid = Laid::of(&plan).unwrap();
    let far = laid.layout.cells[7];
    let to = |cell| Edit::Move { cell, column: far.column, row: far.row, layer: far.layer };
    let moved = laid.edit(&to(0)).unwrap();
    assert_eq!(Site::from(&moved.cells[0]), Site::from(&far));
    assert_eq!(Site::from(&moved.cells[7]), Site::from(&laid.layout.cells[0]));
    // Each keeps the way its group stands: only its place changed.
    assert_eq!(moved.cells[0].plus_up, laid.layout.cells[0].plus_up);
    let found = faults(&moved, &laid.grid, 4, 2);
    assert!(found.contains(&Fault::Apart { group: 1, parts: 2 }), "{found:?}");

    let mut locked = plan.clone();
    locked.packs[0].brick.layout = Some(laid.edit(&Edit::Lock { cell: 7, locked: true }).unwrap());
    let laid = Laid::of(&locked).unwrap();
    assert_eq!(laid.edit(&to(0)).unwrap_err(), Refused::Locked("4b".into()));
    assert!(matches!(laid.edit(&to(99)), Err(Refused::Nothing(_))));
    let outside = Edit::Move { cell: 0, column: 99, row: 0, layer: 0 };
    assert!(laid.edit(&outside).unwrap_err().to_string().contains("columns"));
}

#[test]
fn what_is_locked_stays_when_the_rest_is_laid_out_anew() {
    let mut plan = laid_out(6, 4, CELL);
    let laid = Laid::of(&plan).unwrap();
    let (a, b) = (laid.layout.cells[0], laid.layout.cells[23]);
    let swapped = laid.edit(&Edit::Move { cell: 0, column: b.column, row: b.row, layer: 0 }).unwrap();
    plan.packs[0].brick.layout = Some(swapped);
    let locked = Laid::of(&plan).unwrap().edit(&Edit::Lock { cell: 0, locked: true }).unwrap();
    plan.packs[0].brick.layout = Some(locked);
    let laid = Laid::of(&plan).unwrap();
    let found = laid.searched(80_000, 1, &Unwatched).unwrap();
    assert!(found.cells[0..4].iter().any(|s| s.locked && (s.column, s.row) == (b.column, b.row)), "{a:?} {found:?}");
    assert!(faults(&found, &laid.grid, 6, 4).is_empty(), "{:?}", faults(&found, &laid.grid, 6, 4));
}

/// Every assignment of so many groups to the sites, as sets of sites.
fn every_assignment(sites: &[Site], series: usize, parallel: usize, tell: &mut impl FnMut(&[Vec<Site>])) {
    fn go(
        sites: &[Site],
        k: usize,
        groups: &mut Vec<Vec<Site>>,
        parallel: usize,
        empty: usize,
        tell: &mut impl FnMut(&[Vec<Site>]),
    ) {
        if k == sites.len() {
            tell(groups);
            return;
        }
        for g in 0..groups.len() {
            if groups[g].len() < parallel {
                groups[g].push(sites[k]);
                go(sites, k + 1, groups, parallel, empty, tell);
                groups[g].pop();
            }
        }
        if empty > 0 {
            go(sites, k + 1, groups, parallel, empty - 1, tell);
        }
    }
    let empty = sites.len() - series * parallel;
    go(sites, 0, &mut vec![vec![]; series], parallel, empty, tell);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    /// On tiny bricks the search finds what trying everything finds.
    #[test]
    fn the_search_finds_the_best_there_is(
        lattice in prop::sample::select(vec![Lattice::Square, Lattice::Staggered, Lattice::StaggeredShort]),
        (columns, rows, series, parallel) in prop::sample::select(vec![(3, 2, 3, 2), (2, 3, 2, 2), (4, 2, 2, 3), (3, 3, 4, 2), (4, 2, 4, 2), (3, 3, 2, 4)]),
        seed in 0u64..1000,
    ) {
        let g = grid(lattice, columns, rows);
        let sites: Vec<Site> = g.sites().collect();
        prop_assume!(sites.len() >= series * parallel);
        let mut best_mm = f64::MAX;
        every_assignment(&sites, series, parallel, &mut |groups| {
            best_mm = best_mm.min(Seating::new(&g, groups.to_vec()).cost_mm(Wanted::default()));
        });
        let free = vec![sites];
        let (_, start) = best_of_each(patterns(&g, &free, series, parallel, Wanted::default()), Wanted::default()).remove(0);
        let start_mm = start.cost_mm(Wanted::default());
        let search = Search { free: &free, locked: &[], wanted: Wanted::default(), moves: 12_000, seed };
        let found_mm = search.from(start, &Unwatched).unwrap().cost_mm(Wanted::default());
        prop_assert!(found_mm <= start_mm);
        prop_assert!((found_mm - best_mm).abs() < 1e-6, "{found_mm} against {best_mm}");
    }
}

#[test]
fn the_same_seed_finds_the_same_and_the_ends_come_where_they_are_wanted() {
    use brick_core::plan::Edge;
    // Bars along the rows all touch the left edge; bars along the columns do not.
    let g = grid(Lattice::Square, 4, 4);
    let free = vec![g.sites().collect::<Vec<_>>()];
    let wanted = Wanted { minus_at: Some(Edge::Left), plus_at: Some(Edge::Left) };
    let (_, start) = best_of_each(patterns(&g, &free, 4, 4, wanted), wanted).remove(0);
    let search = |seed| Search { free: &free, locked: &[], wanted, moves: 40_000, seed };
    let found = search(7).from(start.clone(), &Unwatched).unwrap();
    assert_eq!(found.groups, search(7).from(start, &Unwatched).unwrap().groups);
    for group in [&found.groups[0], &found.groups[3]] {
        assert!(group.iter().any(|s| s.column == 0), "{group:?}");
    }
    let layout = Layout {
        lattice: Lattice::Square,
        axis: Axis::Z,
        columns_along: Axis::X,
        columns: 4,
        rows: 4,
        layers: 1,
        at_mm: [0.0; 3],
        board_on: None,
        wires_on: Wall::XHigh,
        cells: seats(&found),
    };
    assert!(faults(&layout, &g, 4, 4).is_empty());
    // A strip as wide as the pitch touches its neighbour.
    let strips = pieces(&layout, &g, 4);
    assert!(near(&strips, &g, 8.0).is_empty());
    assert!(near(&strips, &g, 18.5).iter().any(|f| matches!(f, Fault::Near { .. })));
}
