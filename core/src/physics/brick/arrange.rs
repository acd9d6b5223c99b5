//! Every way to lay a pack's cells as a lattice in a compartment: which fit, how tightly, and how well they join.

use std::cmp::Ordering;

use serde::Serialize;
use utoipa::ToSchema;

use super::grid::{Grid, Site};
use super::joints::{Seating, Wanted};
use super::metal::{Merit, merit, pieces};
use super::pattern::{Pattern, best_of_each, patterns};
use super::place::{Sketch, free_sites, sketches};
use super::room::{Around, Fit, Placed};
use crate::plan::{CellSize, Clearances, Compartment, Layout, Seat};

/// Arrangements that fit and are told: more is no choice.
const MOST_TOLD: usize = 24;
/// Arrangements that nearly fit and are told.
const MOST_NEAR: usize = 5;

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

impl Sketch {
    /// What keeps it from fitting; something in the way counts as so many millimetres.
    fn missing_mm(&self) -> f64 {
        const BLOCKED_MM: f64 = 5.0;
        let blocked_mm = if self.fit.in_the_way.is_empty() { 0.0 } else { BLOCKED_MM };
        blocked_mm - self.fit.tightest_mm().min(0.0)
    }

    /// With its best pattern and what that costs. `None` where none holds together.
    fn seated(self, task: &Task<'_>) -> Option<(f64, Arrangement)> {
        let (series, parallel) = (task.series as usize, task.parallel as usize);
        let placed = Placed { grid: &self.grid, around: self.around(task), at_mm: self.at_mm };
        let free = if self.free.is_empty() { free_sites(&placed, task.place) } else { self.free.clone() };
        let found = best_of_each(patterns(&self.grid, &free, series, parallel, task.wanted), task.wanted);
        let (pattern, seating) = found.into_iter().find(|(_, s)| (0..series).all(|g| s.parts(g) == 1))?;
        let cost_mm = seating.cost_mm(task.wanted);
        let cells = seats(&seating);
        let used: Vec<Site> = cells.iter().map(Site::from).collect();
        // Judged by the cells it has now, which may be fewer than the lattice holds.
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
            holds: if self.free.is_empty() {
                self.grid.layer_holds() * self.grid.counts[2]
            } else {
                self.free.iter().map(|l| l.len() as u32).sum()
            },
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
