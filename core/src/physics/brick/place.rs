//! Where a lattice can go: which ones are worth trying, and where each lies round what is in the way.

use super::arrange::Task;
use super::grid::{Form, Grid, Site, axes};
use super::pattern::share_layers;
use super::room::{Around, Cuboid, Fit, Placed, space_mm};
use crate::base::limit::above;
use crate::plan::{Axis, CellSize, Compartment, Lattice, Space, Wall};

/// Lattices that fit and are worked out, the most compact first: from more than that nobody chooses.
const MOST_FITTING: usize = 40;

/// A lattice in its place, its cells not seated yet.
pub(super) struct Sketch {
    /// The lattice.
    pub grid: Grid,
    /// Side of the board, if it goes in.
    pub board_on: Option<Wall>,
    /// Side of the wires.
    pub wires_on: Wall,
    /// Where it begins.
    pub at_mm: [f64; 3],
    /// Sites that can be used, layer by layer.
    pub free: Vec<Vec<Site>>,
    /// How it lies, with every one of them used.
    pub fit: Fit,
}

impl Sketch {
    /// Without the columns and rows on which nothing sits. Rows go in pairs, so that the shifted ones stay so.
    fn cropped(mut self) -> Sketch {
        let used = || self.free.iter().flatten();
        let (Some(columns), Some(rows)) = (used().map(|s| s.column).min(), used().map(|s| s.row & !1).min()) else {
            return self;
        };
        let least = [columns, rows];
        let most = [used().map(|s| s.column).max().unwrap_or(0), used().map(|s| s.row).max().unwrap_or(0)];
        for k in 0..2 {
            self.at_mm[self.grid.axes[k].index()] += f64::from(least[k]) * self.grid.pitch_mm[k];
            self.grid.counts[k] = most[k] - least[k] + 1;
        }
        for site in self.free.iter_mut().flatten() {
            *site = Site { column: site.column - columns, row: site.row - rows, ..*site };
        }
        self
    }
}

/// Directions of columns, rows and cells that are worth trying with a lattice.
fn ways(form: Form, lattice: Lattice) -> Vec<[Axis; 3]> {
    let mut found = vec![];
    for axis in Axis::ALL {
        let columns = Axis::ALL.into_iter().filter(|&a| a != axis);
        // Straight rows and columns of round cells are the same either way.
        let one_way = form == Form::Round && lattice == Lattice::Square;
        found.extend(columns.take(if one_way { 1 } else { 2 }).map(|c| axes(axis, c)));
    }
    found
}

/// Every lattice worth telling of: those that fit, up to so many, and those that do not.
pub(super) fn sketches(task: &Task<'_>) -> Vec<Sketch> {
    let mut found = vec![];
    let mut grids: Vec<(f64, Grid)> = vec![];
    let round = matches!(task.size, CellSize::Cylindrical { .. });
    let (form, lattices): (Form, &[Lattice]) = if round {
        (Form::Round, &[Lattice::Square, Lattice::Staggered, Lattice::StaggeredShort])
    } else {
        (Form::Flat, &[Lattice::Square])
    };
    for &lattice in lattices {
        for way in ways(form, lattice) {
            match task.place.space {
                // Turned about the tube it is the same bundle.
                Space::Cylinder { .. } if way[2] == Axis::X && way[0] == Axis::Z && round => {}
                Space::Cylinder { diameter_mm, .. } if way[2] == Axis::X && round => {
                    found.extend(bundles(task, lattice, way, diameter_mm));
                }
                _ => grids.extend(blocks(task, lattice, way).into_iter().map(|g| (surface_mm2(g.size_mm()), g))),
            }
        }
    }
    grids.sort_by(|(a, _), (b, _)| a.total_cmp(b));
    let mut fitting = 0;
    for (_, grid) in grids {
        let Some(sketch) = place(task, &grid) else { continue };
        fitting += usize::from(sketch.fit.fits());
        found.push(sketch);
        if fitting == MOST_FITTING {
            break;
        }
    }
    found
}

/// Surface of a box: the smaller, the denser what fills it.
fn surface_mm2([x, y, z]: [f64; 3]) -> f64 {
    2.0 * (x * y + y * z + z * x)
}

/// Rectangular lattices: for every number of layers and columns the fewest rows that hold the pack.
fn blocks(task: &Task<'_>, lattice: Lattice, way: [Axis; 3]) -> Vec<Grid> {
    let mut found = vec![];
    for (layers, wanted) in layerings(task) {
        for columns in 1..=wanted {
            let grid =
                |columns: u32, rows: u32| Grid::new(&task.size, task.clear, lattice, way, [columns, rows, layers]);
            // Never more than the fewest: no row holds more than its columns.
            let mut rows = (wanted / columns).max(1);
            while grid(columns, rows).layer_holds() < wanted {
                rows += 1;
            }
            let narrower = columns > 1 && grid(columns - 1, rows).layer_holds() >= wanted;
            let straight = rows == 1 && lattice != Lattice::Square;
            if !narrower && !straight {
                found.push(grid(columns, rows));
            }
        }
    }
    found
}

/// Numbers of layers worth trying, with the cells that each must hold. Groups never span layers, and none stays empty.
fn layerings(task: &Task<'_>) -> impl Iterator<Item = (u32, u32)> {
    let (series, parallel) = (task.series, task.parallel);
    let all = (1..=series).map(move |layers| (layers, series.div_ceil(layers)));
    all.filter(move |&(layers, groups)| series.div_ceil(groups) == layers)
        .map(move |(layers, groups)| (layers, groups * parallel))
}

/// A rectangular lattice put where it goes; with more rows where something in the way takes sites.
fn place(task: &Task<'_>, least: &Grid) -> Option<Sketch> {
    let mut first: Option<Sketch> = None;
    let [columns, rows, layers] = least.counts;
    let blocks = task.place.in_the_way().count();
    let open = blocks == 0 && matches!(task.place.space, Space::Box { .. });
    for more in 0..=blocks as u32 {
        let grid = Grid { counts: [columns, rows + more, layers], ..least.clone() };
        let (board_on, wires_on) = best_sides(task, &grid);
        let around = Around { clear: task.clear, board_on, wires_on };
        let room_mm = space_mm(&task.place.space);
        let size_mm = around.size_mm(grid.size_mm());
        let roomy = (0..3).all(|i| !above(size_mm[i], room_mm[i]));
        for at_mm in positions(task, &grid, &around, roomy) {
            let placed = Placed { grid: &grid, around, at_mm };
            let (free, holds, fit) = if open {
                let high_mm = std::array::from_fn(|i| at_mm[i] + grid.size_mm()[i]);
                (vec![], true, placed.fit_of(&Cuboid { low_mm: at_mm, high_mm }, &[], task.place))
            } else {
                let free = free_sites(&placed, task.place);
                let holds = share_layers(&free, task.series as usize, task.parallel as usize).is_some();
                let used = if holds { free.concat() } else { grid.sites().collect() };
                (free, holds, placed.fit(&used, task.place))
            };
            let fits = holds && fit.fits();
            let sketch = Sketch { grid: grid.clone(), board_on, wires_on, at_mm, free, fit };
            if fits {
                return Some(sketch);
            }
            first.get_or_insert(sketch);
        }
        if !roomy {
            break;
        }
    }
    first
}

fn in_the_way(place: &Compartment) -> Vec<Cuboid> {
    place.in_the_way().map(Cuboid::from).collect()
}

/// Sites of each layer that nothing in the way takes, and that lie inside a tube.
pub(super) fn free_sites(placed: &Placed<'_>, place: &Compartment) -> Vec<Vec<Site>> {
    let others = in_the_way(place);
    let mut free = vec![vec![]; placed.grid.counts[2] as usize];
    for site in placed.grid.sites() {
        let outside = match place.space {
            Space::Box { .. } => false,
            Space::Cylinder { diameter_mm, .. } => placed.beyond_tube_mm(site, diameter_mm) > 1e-9,
        };
        if !outside && !others.iter().any(|other| placed.cell_meets(site, other)) {
            free[site.layer as usize].push(site);
        }
    }
    free
}

/// The sides for board and wires that leave most room where it is least.
fn best_sides(task: &Task<'_>, grid: &Grid) -> (Option<Wall>, Wall) {
    let room_mm = space_mm(&task.place.space);
    let cells_mm = grid.size_mm();
    let walls: &[Wall] = match task.place.space {
        Space::Box { .. } => &[Wall::XHigh, Wall::YHigh, Wall::ZHigh],
        // Along a tube only its ends are flat.
        Space::Cylinder { .. } => &[Wall::XHigh],
    };
    let mut best: Option<(f64, Option<Wall>, Wall)> = None;
    for &wires_on in walls {
        for &on in walls {
            let board_on = task.clear.board.as_ref().map(|_| on);
            let size_mm = Around { clear: task.clear, board_on, wires_on }.size_mm(cells_mm);
            let least_mm = (0..3).map(|i| room_mm[i] - size_mm[i]).fold(f64::MAX, f64::min);
            if best.is_none_or(|(mm, ..)| least_mm > mm + 1e-9) {
                best = Some((least_mm, board_on, wires_on));
            }
        }
    }
    best.map_or((None, Wall::XHigh), |(_, board_on, wires_on)| (board_on, wires_on))
}

/// Where a lattice may begin: in the middle of its room; where something is in the way also against it and in the corners.
fn positions(task: &Task<'_>, grid: &Grid, around: &Around<'_>, roomy: bool) -> Vec<[f64; 3]> {
    let room_mm = space_mm(&task.place.space);
    let cells_mm = grid.size_mm();
    let size_mm = around.size_mm(cells_mm);
    let along = |i: usize| -> Vec<f64> {
        let low_mm: f64 =
            Wall::ALL.into_iter().filter(|w| w.axis().index() == i && !w.is_high()).map(|w| around.outside_mm(w)).sum();
        // What a board sticks out beyond the cells is shared by both sides.
        let outside_mm: f64 =
            Wall::ALL.into_iter().filter(|w| w.axis().index() == i).map(|w| around.outside_mm(w)).sum();
        let over_mm = (size_mm[i] - cells_mm[i] - outside_mm) / 2.0;
        let spare_mm = room_mm[i] - size_mm[i];
        let begin = |from_mm: f64| from_mm + low_mm + over_mm;
        let mut found = vec![begin(spare_mm / 2.0)];
        if roomy && task.place.in_the_way().next().is_some() {
            found.extend([begin(0.0), begin(spare_mm)]);
            for other in in_the_way(task.place) {
                for from_mm in [other.high_mm[i], other.low_mm[i] - size_mm[i]] {
                    if from_mm > 0.0 && from_mm < spare_mm {
                        found.push(begin(from_mm));
                    }
                }
            }
            found.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
        }
        found
    };
    let [xs, ys, zs] = [along(0), along(1), along(2)];
    let mut found = vec![];
    for &x in &xs {
        for &y in &ys {
            found.extend(zs.iter().map(|&z| [x, y, z]));
        }
    }
    found
}

/// Round cells along a tube: the lattice about the middle of a cell, of a gap, or of a hollow, whichever holds most.
fn bundles(task: &Task<'_>, lattice: Lattice, way: [Axis; 3], diameter_mm: f64) -> Vec<Sketch> {
    // Short rows are the same lattice; it is cut by the circle anyway.
    if lattice == Lattice::StaggeredShort {
        return vec![];
    }
    let mut found = vec![];
    for (layers, wanted) in layerings(task) {
        let wanted = wanted as usize;
        let bare = Grid::new(&task.size, task.clear, lattice, way, [1, 1, layers]);
        let across = |pitch_mm: f64| (diameter_mm / pitch_mm).ceil() as u32 + 2;
        let counts = [across(bare.pitch_mm[0]), across(bare.pitch_mm[1]) | 1, layers];
        let grid = Grid { counts, ..bare };
        let (board_on, wires_on) = best_sides(task, &Grid { counts: [1, 1, layers], ..grid.clone() });
        let around = Around { clear: task.clear, board_on, wires_on };
        let [column_mm, row_mm, _] = grid.pitch_mm;
        let hollow_mm = if lattice == Lattice::Square { row_mm / 2.0 } else { row_mm / 3.0 };
        let mut best: Option<Sketch> = None;
        for off_mm in [
            [0.0, 0.0],
            [column_mm / 2.0, 0.0],
            [0.0, row_mm / 2.0],
            [column_mm / 2.0, row_mm / 2.0],
            [column_mm / 2.0, hollow_mm],
        ] {
            let middle = Site { layer: 0, row: counts[1] / 2, column: counts[0] / 2 };
            let [x, y] = grid.middle_mm(middle);
            let size_mm = around.size_mm(Grid { counts: [1, 1, layers], ..grid.clone() }.size_mm())[0];
            let spare_mm = space_mm(&task.place.space)[0] - size_mm;
            let mut at_mm = [0.0; 3];
            at_mm[Axis::X.index()] = spare_mm / 2.0 + around.outside_mm(Wall::XLow);
            at_mm[way[0].index()] = diameter_mm / 2.0 - x - off_mm[0];
            at_mm[way[1].index()] = diameter_mm / 2.0 - y - off_mm[1];
            let placed = Placed { grid: &grid, around, at_mm };
            let mut free = free_sites(&placed, task.place);
            for layer in &mut free {
                layer.sort_by(|a, b| {
                    placed.beyond_tube_mm(*a, diameter_mm).total_cmp(&placed.beyond_tube_mm(*b, diameter_mm))
                });
                layer.truncate(wanted);
                layer.sort_unstable();
            }
            let holds = share_layers(&free, task.series as usize, task.parallel as usize).is_some();
            if !holds {
                free = nearest(&placed, wanted, diameter_mm);
            }
            let fit = placed.fit(&free.concat(), task.place);
            let sketch = Sketch { grid: grid.clone(), board_on, wires_on, at_mm, free, fit };
            if best.as_ref().is_none_or(|b| sketch.fit.tightest_mm() > b.fit.tightest_mm()) {
                best = Some(sketch);
            }
        }
        found.extend(best.map(Sketch::cropped));
    }
    found
}

/// The sites nearest to the middle of a tube, layer by layer, whether they fit or not.
fn nearest(placed: &Placed<'_>, wanted: usize, diameter_mm: f64) -> Vec<Vec<Site>> {
    let beyond_mm = |s: &Site| placed.beyond_tube_mm(*s, diameter_mm);
    let of_layer = |layer: u32| {
        let mut sites: Vec<Site> = placed.grid.sites().filter(|s| s.layer == layer).collect();
        sites.sort_by(|a, b| beyond_mm(a).total_cmp(&beyond_mm(b)));
        sites.truncate(wanted);
        sites
    };
    (0..placed.grid.counts[2]).map(of_layer).collect()
}
