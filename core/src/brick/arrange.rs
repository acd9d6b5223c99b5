//! Every way to lay a pack's cells as a lattice in a compartment: which fit, how tightly, and how well they join.

use std::cmp::Ordering;

use serde::Serialize;
use utoipa::ToSchema;

use super::grid::{Form, Grid, Site, axes};
use super::joints::{Seating, Wanted};
use super::metal::{Merit, merit, pieces};
use super::pattern::{Pattern, best_of_each, patterns, share_layers};
use super::room::{Around, Cuboid, Fit, Placed, space_mm};
use crate::limit::above;
use crate::plan::{Axis, CellSize, Clearances, Compartment, Lattice, Layout, Seat, Space, Wall};

/// Arrangements that fit and are told: more is no choice.
const MOST_TOLD: usize = 24;
/// Arrangements that nearly fit and are told.
const MOST_NEAR: usize = 5;
/// Arrangements of which the joints are worked out, the most compact first.
const MOST_WORKED: usize = 60;

/// What is to be laid out.
#[derive(Debug, Clone)]
pub struct Task<'a> {
    /// Size of one cell.
    pub size: CellSize,
    /// Room for what is round the cells.
    pub clear: &'a Clearances,
    /// Where it goes.
    pub place: &'a Compartment,
    /// Groups in series.
    pub series: u32,
    /// Cells in each.
    pub parallel: u32,
    /// Where the ends are wanted.
    pub wanted: Wanted,
}

/// One way to lay the cells.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Arrangement {
    /// The lattice, with its cells seated by the best of the usual patterns; not seated where it does not fit.
    pub layout: Layout,
    /// How it lies in the compartment.
    pub fit: Fit,
    /// Whether it goes in.
    pub fits: bool,
    /// Room left along x, y and z.
    pub spare_mm: [f64; 3],
    /// Cells that the lattice could hold.
    pub holds: u32,
    /// The pattern of its seating.
    pub pattern: Option<Pattern>,
    /// What its strips come to.
    pub merit: Option<Merit>,
}

/// All arrangements worth telling, those that fit first, the best first.
///
/// Those that fit are ranked by links that only a wire can make, by the length of the links, by strips, and by how near
/// the ends come to where they are wanted; the others by what is missing.
pub fn arrangements(task: &Task<'_>) -> Vec<Arrangement> {
    let mut fitting: Vec<Sketch> = vec![];
    let mut near: Vec<Sketch> = vec![];
    for sketch in sketches(task) {
        if sketch.fit.fits() { fitting.push(sketch) } else { near.push(sketch) }
    }
    fitting.sort_by(|a, b| a.bulk_mm2().total_cmp(&b.bulk_mm2()));
    fitting.truncate(MOST_WORKED);
    let mut told: Vec<(f64, Arrangement)> = fitting.into_iter().filter_map(|s| s.seated(task)).collect();
    told.sort_by(|(a_mm, a), (b_mm, b)| a_mm.total_cmp(b_mm).then_with(|| by_strips(a, b)));
    // One row is the same on every lattice, two cells side by side in either direction.
    let mut seen: Vec<Vec<[i64; 3]>> = vec![];
    told.retain(|(_, a)| {
        let middles = a.middles_um(task);
        let is_new = !seen.contains(&middles);
        seen.push(middles);
        is_new
    });
    told.truncate(MOST_TOLD);
    near.sort_by(|a, b| a.missing_mm().total_cmp(&b.missing_mm()));
    near.truncate(MOST_NEAR);
    let told = told.into_iter().map(|(_, a)| a);
    told.chain(near.into_iter().map(|s| s.arrangement(vec![], None, None))).collect()
}

fn by_strips(a: &Arrangement, b: &Arrangement) -> Ordering {
    let strips = |a: &Arrangement| a.merit.map_or((0, 0.0), |m| (m.strips, m.strip_mm));
    let ((an, a_mm), (bn, b_mm)) = (strips(a), strips(b));
    an.cmp(&bn)
        .then(a_mm.total_cmp(&b_mm))
        // Straight rows are easier to hold and to weld.
        .then(a.layout.lattice.cmp(&b.layout.lattice))
        .then(b.fit.tightest_mm().total_cmp(&a.fit.tightest_mm()))
}

impl Arrangement {
    /// Where its cells lie, whatever the lattice is called: to the micrometre.
    fn middles_um(&self, task: &Task<'_>) -> Vec<[i64; 3]> {
        let grid = Grid::of(&self.layout, &task.size, task.clear);
        let middle =
            |s: &Seat| grid.middle_in_mm(Site::from(s), self.layout.at_mm).map(|mm| (mm * 1000.0).round() as i64);
        let mut found: Vec<[i64; 3]> = self.layout.cells.iter().map(middle).collect();
        found.sort_unstable();
        found
    }
}

/// An arrangement whose cells are not seated yet.
struct Sketch {
    grid: Grid,
    board_on: Option<Wall>,
    wires_on: Wall,
    at_mm: [f64; 3],
    free: Vec<Vec<Site>>,
    fit: Fit,
}

impl Sketch {
    /// Surface of what its cells take: the smaller, the denser.
    fn bulk_mm2(&self) -> f64 {
        let [x, y, z] = self.fit.size_mm;
        2.0 * (x * y + y * z + z * x)
    }

    /// What keeps it from fitting; something in the way counts as so many millimetres.
    fn missing_mm(&self) -> f64 {
        const BLOCKED_MM: f64 = 5.0;
        let blocked_mm = if self.fit.in_the_way.is_empty() { 0.0 } else { BLOCKED_MM };
        blocked_mm - self.fit.tightest_mm().min(0.0)
    }

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

    /// With its best pattern and what that costs. `None` where none holds together.
    fn seated(self, task: &Task<'_>) -> Option<(f64, Arrangement)> {
        let (series, parallel) = (task.series as usize, task.parallel as usize);
        let found = best_of_each(patterns(&self.grid, &self.free, series, parallel), task.wanted);
        let (pattern, seating) = found.into_iter().find(|(_, s)| (0..series).all(|g| s.parts(g) == 1))?;
        let cost_mm = seating.cost_mm(task.wanted);
        let cells = seats(&seating);
        let used: Vec<Site> = cells.iter().map(Site::from).collect();
        // Judged by the cells it has now, which may be fewer than the lattice holds.
        let placed = Placed { grid: &self.grid, around: self.around(task), at_mm: self.at_mm };
        let fit = placed.fit(&used, task.place);
        let layout = self.layout(cells);
        let found = merit(&pieces(&layout, &self.grid, parallel), &self.grid, series);
        let sketch = Sketch { fit, ..self };
        Some((cost_mm, sketch.arrangement(layout.cells, Some(pattern), Some(found))))
    }

    fn around<'t>(&self, task: &Task<'t>) -> Around<'t> {
        Around { clear: task.clear, board_on: self.board_on, wires_on: self.wires_on }
    }

    fn layout(&self, cells: Vec<Seat>) -> Layout {
        let [columns, rows, layers] = self.grid.counts;
        Layout {
            lattice: self.grid.lattice,
            axis: self.grid.axes[2],
            columns_along: self.grid.axes[0],
            columns,
            rows,
            layers,
            at_mm: self.at_mm,
            board_on: self.board_on,
            wires_on: self.wires_on,
            cells,
        }
    }

    fn arrangement(self, cells: Vec<Seat>, pattern: Option<Pattern>, merit: Option<Merit>) -> Arrangement {
        Arrangement {
            layout: self.layout(cells),
            fits: self.fit.fits(),
            spare_mm: self.fit.spare_mm(),
            holds: self.free.iter().map(|l| l.len() as u32).sum(),
            fit: self.fit,
            pattern,
            merit,
        }
    }
}

/// Cells of a seating, every other group of the chain turned over.
pub fn seats(seating: &Seating<'_>) -> Vec<Seat> {
    let seat = |g: usize, s: &Site| Seat {
        column: s.column,
        row: s.row,
        layer: s.layer,
        plus_up: g.is_multiple_of(2),
        locked: false,
    };
    seating.groups.iter().enumerate().flat_map(|(g, sites)| sites.iter().map(move |s| seat(g, s))).collect()
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

fn sketches(task: &Task<'_>) -> Vec<Sketch> {
    let mut found = vec![];
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
                _ => found.extend(blocks(task, lattice, way)),
            }
        }
    }
    found
}

/// Rectangular lattices: for every number of layers and columns the fewest rows that hold the pack.
fn blocks(task: &Task<'_>, lattice: Lattice, way: [Axis; 3]) -> Vec<Sketch> {
    let mut found: Vec<Sketch> = vec![];
    for layers in 1..=task.series {
        let wanted = task.series.div_ceil(layers) * task.parallel;
        // As many layers with fewer groups in each would leave the last one empty.
        if task.series.div_ceil(wanted / task.parallel) != layers {
            continue;
        }
        for columns in 1..=wanted {
            let grid =
                |columns: u32, rows: u32| Grid::new(&task.size, task.clear, lattice, way, [columns, rows, layers]);
            let row_pair =
                |columns: u32| f64::from(2 * columns - u32::from(lattice == Lattice::StaggeredShort && columns > 1));
            let mut rows = ((f64::from(wanted) * 2.0 / row_pair(columns)).floor() as u32).max(1);
            while grid(columns, rows).layer_holds() < wanted {
                rows += 1;
            }
            let least = rows > 1 && grid(columns, rows - 1).layer_holds() >= wanted;
            let narrower = columns > 1 && grid(columns - 1, rows).layer_holds() >= wanted;
            let straight = rows == 1 && lattice != Lattice::Square;
            if least || narrower || straight {
                continue;
            }
            found.extend(place(task, lattice, way, [columns, rows, layers]));
        }
    }
    found
}

/// A rectangular lattice put where it goes; with more rows where something in the way takes sites.
fn place(task: &Task<'_>, lattice: Lattice, way: [Axis; 3], counts: [u32; 3]) -> Option<Sketch> {
    let mut first: Option<Sketch> = None;
    let [columns, rows, layers] = counts;
    for more in 0..=task.place.obstructions.len() as u32 {
        let grid = Grid::new(&task.size, task.clear, lattice, way, [columns, rows + more, layers]);
        let (board_on, wires_on) = best_sides(task, &grid);
        let around = Around { clear: task.clear, board_on, wires_on };
        let room_mm = space_mm(&task.place.space);
        let size_mm = around.size_mm(grid.size_mm());
        let roomy = (0..3).all(|i| !above(size_mm[i], room_mm[i]));
        for at_mm in positions(task, &grid, &around, roomy) {
            let placed = Placed { grid: &grid, around, at_mm };
            let free = free_sites(&placed, task.place);
            let holds = share_layers(&free, task.series as usize, task.parallel as usize).is_some();
            let used = if holds { free.concat() } else { grid.sites().collect() };
            let mut fit = placed.fit(&used, task.place);
            if holds && placed.board_is_blocked(&fit.cells, &in_the_way(task.place)) {
                fit.in_the_way.push("the board".to_owned());
            }
            let sketch = Sketch { grid: grid.clone(), board_on, wires_on, at_mm, free, fit };
            if holds && sketch.fit.fits() {
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
    place.obstructions.iter().map(Cuboid::from).collect()
}

/// Sites of each layer that nothing in the way takes, and that lie inside a tube.
fn free_sites(placed: &Placed<'_>, place: &Compartment) -> Vec<Vec<Site>> {
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
        if roomy && !task.place.obstructions.is_empty() {
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
    for layers in 1..=task.series {
        let wanted = (task.series.div_ceil(layers) * task.parallel) as usize;
        if task.series.div_ceil(wanted as u32 / task.parallel) != layers {
            continue;
        }
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
            let used = if holds { free.concat() } else { nearest(&placed, wanted, diameter_mm) };
            let fit = placed.fit(&used, task.place);
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
fn nearest(placed: &Placed<'_>, wanted: usize, diameter_mm: f64) -> Vec<Site> {
    let mut found = vec![];
    for layer in 0..placed.grid.counts[2] {
        let mut sites: Vec<Site> = placed.grid.sites().filter(|s| s.layer == layer).collect();
        sites.sort_by(|a, b| placed.beyond_tube_mm(*a, diameter_mm).total_cmp(&placed.beyond_tube_mm(*b, diameter_mm)));
        found.extend(sites.into_iter().take(wanted));
    }
    found
}
