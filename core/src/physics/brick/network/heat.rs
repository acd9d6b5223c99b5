//! How warm the cells of a brick become: each cell one lump, with conduction to its neighbours, along the strips, and
//! through what is round the brick to the wall of its compartment, which stays at the temperature of the surroundings.
//!
//! Heat is I²R of cells and strips only (Bernardi, Pawlikowski and Newman 1985 without its reversible part, which is
//! small against it at the currents that matter here). Between round cells: two rods in an infinite medium, S = 2 pi L
//! / arcosh((4 w² - D² - d²) / (2 D d)) (Incropera and DeWitt, table 4.1). Nothing is known of the inside of a cell: its
//! surface is cooler than its middle by a few kelvin at high currents.

use std::f64::consts::PI;

use super::sharing::Sharing;
use crate::base::conductance::{Factored, Mesh};
use crate::physics::brick::grid::{Form, Grid, Site};
use crate::physics::brick::laid::Laid;
use crate::physics::brick::strip::{FILM_W_PER_M2K, strip_w_per_k_mm};
use crate::plan::{CellSize, Clearances, Strip};

/// Heat capacity of a cell. Common practice, no source: 0.9 to 1.0 J/(g K) in measurements of round cells.
const CELL_J_PER_GK: f64 = 0.95;
/// Density of a cell whose mass is not stated. Common practice, no source: a 47 g cell of 18650 size has 2.7.
const CELL_G_PER_CM3: f64 = 2.6;
/// Between cells: air (0.026) with sleeves, a sheet and radiation across the gap. Assumed.
const GAP_W_PER_MK: f64 = 0.06;
/// Sheet, sleeve, wrap, shell, plastic of a holder. Handbooks: 0.15 to 0.25 for plastics (from memory).
const PLASTIC_W_PER_MK: f64 = 0.2;
/// Foam and padding. Handbooks: 0.03 to 0.05 (from memory).
const FOAM_W_PER_MK: f64 = 0.04;
/// Thinner gaps count as this: two sleeves.
const LEAST_GAP_MM: f64 = 0.2;
/// Steps in which a time is gone through; half or twice as many change the rise by less than 1 %.
const STEPS: u32 = 24;

/// Length of conducting medium between two rods side by side: heat flow is this times conductivity times kelvin.
///
/// S = 2 pi L / arcosh((4 w² - 2 D²) / (2 D²)) for equal rods. Incropera and DeWitt, table 4.1 (from memory).
fn between_rods_m(length_mm: f64, diameter_mm: f64, apart_mm: f64) -> f64 {
    let ratio = apart_mm / diameter_mm;
    2.0 * PI * (length_mm / 1000.0) / (2.0 * ratio * ratio - 1.0).acosh()
}

/// Heat that one cell takes to warm by a kelvin.
pub fn cell_heat_j_per_k(size: &CellSize, mass_g: Option<f64>) -> f64 {
    const CM3_PER_L: f64 = 1000.0;
    mass_g.unwrap_or_else(|| crate::physics::cells::volume_l(size) * CM3_PER_L * CELL_G_PER_CM3) * CELL_J_PER_GK
}

/// Where the heat of a pack can go of which nothing is laid out yet: one lump, the shape of a cube, in still air. Assumed;
/// cells in a cube are 1.3 times as large with the gaps between them.
pub fn block_paths(size: &CellSize, mass_g: Option<f64>, count: usize) -> HeatPaths {
    const GAPS: f64 = 1.3;
    const L_PER_M3: f64 = 1000.0;
    let volume_m3 = crate::physics::cells::volume_l(size) * GAPS * count as f64 / L_PER_M3;
    let mut paths = HeatPaths::of_cells(1, cell_heat_j_per_k(size, mass_g) * count as f64);
    paths.join(0, None, FILM_W_PER_M2K * 6.0 * volume_m3.powf(2.0 / 3.0));
    paths
}

/// Where the heat of a brick can go.
#[derive(Debug, Clone, PartialEq)]
pub struct HeatPaths {
    mesh: Mesh,
    heat_j_per_k: Vec<f64>,
}

impl HeatPaths {
    /// Cells of one heat capacity; paths are added by hand.
    pub fn of_cells(count: usize, heat_j_per_k: f64) -> HeatPaths {
        HeatPaths { mesh: Mesh::new(count), heat_j_per_k: vec![heat_j_per_k; count] }
    }

    /// A path between two cells, or from one to the wall (`None`).
    pub fn join(&mut self, a: usize, b: Option<usize>, w_per_k: f64) {
        self.mesh.join(Some(a), b, w_per_k);
    }

    /// The paths of a laid brick.
    pub fn of(laid: &Laid<'_>, strip: &Strip, sharing: &Sharing, mass_g: Option<f64>) -> Option<HeatPaths> {
        let size = &laid.pack.cell()?.size;
        let cells = laid.cells_by_place();
        let mut paths = HeatPaths::of_cells(laid.layout.cells.len(), cell_heat_j_per_k(size, mass_g));
        let surface = Surface::of(&laid.grid, &laid.pack.brick.clearances);
        for (cell, seat) in laid.layout.cells.iter().enumerate() {
            let mut out_w_per_k = 0.0;
            for side in sides(&laid.grid, Site::from(seat)) {
                let next = side.next.filter(|&s| laid.grid.has(s)).and_then(|s| cells[laid.grid.index(s)]);
                match next {
                    Some(next) if next > cell => paths.join(cell, Some(next), surface.between_w_per_k(side.kind)),
                    Some(_) => {}
                    None => out_w_per_k += surface.outward_w_per_k(side.kind, side.share),
                }
            }
            paths.join(cell, None, out_w_per_k);
        }
        for segment in sharing.segments.iter().filter(|s| s.strip.is_some()) {
            let [a, b] = segment.ends.map(|t| t.cell);
            paths.join(a, Some(b), strip_w_per_k_mm(strip) / segment.length_mm);
        }
        Some(paths)
    }

    /// Rise of each cell over the wall once nothing changes any more. `None` where a cell has no way for its heat.
    pub fn steady_k(&self, heat_w: &[f64]) -> Option<Vec<f64>> {
        Some(self.mesh.factor()?.solve(heat_w))
    }

    /// Rise of each cell over the wall, from cold, after a time.
    pub fn after_k(&self, heat_w: &[f64], seconds: f64) -> Option<Vec<f64>> {
        let warming = self.every(seconds / f64::from(STEPS))?;
        let mut rise_k = vec![0.0; self.heat_j_per_k.len()];
        (0..STEPS).for_each(|_| warming.step(&mut rise_k, heat_w));
        Some(rise_k)
    }

    /// Ready to go through time in steps of one length. `None` where a cell has no way for its heat.
    pub fn every(&self, step_s: f64) -> Option<Warming> {
        let stored: Vec<f64> = self.heat_j_per_k.iter().map(|c| 2.0 * c / step_s).collect();
        let mut mesh = self.mesh.clone();
        stored.iter().enumerate().for_each(|(cell, &g)| mesh.join(Some(cell), None, g));
        Some(Warming { factored: mesh.factor()?, stored })
    }
}

/// Cells that warm in steps of one length.
#[derive(Debug, Clone, PartialEq)]
pub struct Warming {
    factored: Factored,
    stored: Vec<f64>,
}

impl Warming {
    /// Lets heat flow for a step: implicit midpoint, (G + 2C/h) T_m = q + 2C/h T, then T <- 2 T_m - T.
    pub fn step(&self, rise_k: &mut [f64], heat_w: &[f64]) {
        let put_in: Vec<f64> = heat_w.iter().zip(&self.stored).zip(&*rise_k).map(|((q, c), t)| q + c * t).collect();
        let middle_k = self.factored.solve(&put_in);
        rise_k.iter_mut().zip(middle_k).for_each(|(t, m)| *t = 2.0 * m - *t);
    }
}

/// A side of a cell.
struct Side {
    kind: SideKind,
    /// The site beyond it.
    next: Option<Site>,
    /// Part of the surface of its kind.
    share: f64,
}

#[derive(Debug, Clone, Copy, PartialEq)]
enum SideKind {
    /// Toward cells beside a round one.
    Round,
    /// Along columns, the broad side of a flat cell.
    Column,
    /// Along rows, of a flat cell.
    Row,
    /// Its ends.
    End,
}

/// Every side of the cell on a site.
fn sides(grid: &Grid, site: Site) -> Vec<Side> {
    let mut found = vec![];
    let mut add = |kind, next, share| found.push(Side { kind, next, share });
    match grid.form {
        Form::Round => {
            let lines: &[usize] = if grid.lattice == crate::plan::Lattice::Square { &[0, 1] } else { &[0, 1, 2] };
            let share = 1.0 / (2 * lines.len()) as f64;
            for &line in lines {
                add(SideKind::Round, grid.next(site, line), share);
                add(SideKind::Round, grid.before(site, line), share);
            }
        }
        Form::Flat => {
            let column =
                |by: i64| u32::try_from(i64::from(site.column) + by).ok().map(|column| Site { column, ..site });
            let row = |by: i64| u32::try_from(i64::from(site.row) + by).ok().map(|row| Site { row, ..site });
            for by in [-1, 1] {
                add(SideKind::Column, column(by), 0.5);
                add(SideKind::Row, row(by), 0.5);
            }
        }
    }
    let below = site.layer.checked_sub(1).map(|layer| Site { layer, ..site });
    add(SideKind::End, below, 0.5);
    add(SideKind::End, Some(Site { layer: site.layer + 1, ..site }), 0.5);
    found
}

/// Surfaces of one cell, and what heat meets on its way from them.
struct Surface<'a> {
    grid: &'a Grid,
    clear: &'a Clearances,
}

impl<'a> Surface<'a> {
    fn of(grid: &'a Grid, clear: &'a Clearances) -> Surface<'a> {
        Surface { grid, clear }
    }

    /// Both sides of a kind together.
    fn area_m2(&self, kind: SideKind) -> f64 {
        let [x, y, along] = self.grid.cell_mm;
        let mm2 = match kind {
            SideKind::Round => PI * x * along,
            SideKind::Column => 2.0 * y * along,
            SideKind::Row => 2.0 * x * along,
            SideKind::End if self.grid.form == Form::Round => 2.0 * PI / 4.0 * x * x,
            SideKind::End => 2.0 * x * y,
        };
        mm2 * 1e-6
    }

    fn between_w_per_k(&self, kind: SideKind) -> f64 {
        let gap_m = |mm: f64| mm.max(LEAST_GAP_MM) / 1000.0;
        let [_, _, layers_mm] = self.grid.pitch_mm;
        let one_m2 = self.area_m2(kind) / 2.0;
        match kind {
            SideKind::Round => {
                let apart_mm = self.grid.cell_mm[0] + self.clear.gap_mm.max(LEAST_GAP_MM);
                GAP_W_PER_MK * between_rods_m(self.grid.cell_mm[2], self.grid.cell_mm[0], apart_mm)
            }
            SideKind::Column | SideKind::Row => GAP_W_PER_MK * one_m2 / gap_m(self.clear.gap_mm),
            SideKind::End => GAP_W_PER_MK * one_m2 / gap_m(layers_mm - self.grid.cell_mm[2]),
        }
    }

    /// Through wrap, padding and shell into still air.
    fn outward_w_per_k(&self, kind: SideKind, share: f64) -> f64 {
        let sheets_mm = self.clear.wrap_mm + self.clear.shell_mm;
        let ends_mm = if kind == SideKind::End { self.clear.ends_mm } else { 0.0 };
        let m2k_per_w = (sheets_mm + ends_mm) / 1000.0 / PLASTIC_W_PER_MK
            + self.clear.padding_mm / 1000.0 / FOAM_W_PER_MK
            + 1.0 / FILM_W_PER_M2K;
        self.area_m2(kind) * share / m2k_per_w
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// By hand: 0.5 W through 0.043 W/K is 11.628 K; with 45 J/K the time constant is 1046.5 s, after which 63.212 %
    /// of it are reached, and after a tenth of it 9.516 %.
    #[test]
    fn one_cell_warms_as_its_time_constant_says() {
        let mut paths = HeatPaths::of_cells(1, 45.0);
        paths.join(0, None, 0.043);
        let steady_k = paths.steady_k(&[0.5]).unwrap()[0];
        assert!((steady_k - 11.628).abs() < 1e-3, "{steady_k}");
        for (seconds, share) in [(1046.51, 0.632_12), (104.651, 0.095_16), (5.0 * 1046.51, 0.993_26)] {
            let rise_k = paths.after_k(&[0.5], seconds).unwrap()[0];
            assert!((rise_k / steady_k - share).abs() < 2e-3, "{seconds} s: {}", rise_k / steady_k);
        }
    }

    /// Two equal cells, one of which makes 1 W: the sum of their rises follows 1/(C/G) and settles at q/G, their
    /// difference follows C/(G + 2g) and settles at q/(G + 2g). By hand, with G = 0.05, g = 0.1: sum 20 K, difference
    /// 4 K, so 12 K and 8 K; with C = 40 J/K after 200 s: sum 20 (1 - exp(-0.25)) = 4.4240 K, difference 4 (1 -
    /// exp(-1.25)) = 2.8540 K, so 3.6390 K and 0.7850 K.
    #[test]
    fn two_cells_share_their_heat_as_worked_by_hand() {
        let mut paths = HeatPaths::of_cells(2, 40.0);
        paths.join(0, None, 0.05);
        paths.join(1, None, 0.05);
        paths.join(0, Some(1), 0.1);
        let steady_k = paths.steady_k(&[1.0, 0.0]).unwrap();
        assert!((steady_k[0] - 12.0).abs() < 1e-9 && (steady_k[1] - 8.0).abs() < 1e-9, "{steady_k:?}");
        let after_k = paths.after_k(&[1.0, 0.0], 200.0).unwrap();
        assert!((after_k[0] - 3.6390).abs() < 2e-3 && (after_k[1] - 0.7850).abs() < 2e-3, "{after_k:?}");
    }

    /// By hand for 18.4 mm cells 18.9 mm apart, 65 mm long: 2 x 1.0272² - 1 = 1.11009; arcosh 0.46485; 0.8786 m.
    #[test]
    fn the_gap_between_two_round_cells_conducts_as_the_handbook_says() {
        assert!((between_rods_m(65.0, 18.4, 18.9) - 0.8786).abs() < 1e-3, "{}", between_rods_m(65.0, 18.4, 18.9));
    }

    /// Conduction between two rods at ±1 K, solved on a grid by successive over-relaxation: the plane between them stays at nothing, and
    /// above the line through both it is mirrored, so that a quarter is enough. The round is made of steps and the medium ends four
    /// diameters away, so that it comes out a tenth too low.
    fn shape_by_differences(ratio: f64) -> f64 {
        const A_DIAMETER: usize = 60;
        const N: usize = 4 * A_DIAMETER;
        let middle = ratio * A_DIAMETER as f64 / 2.0;
        let inside = |x: usize, y: usize| (x as f64 - middle).hypot(y as f64) <= A_DIAMETER as f64 / 2.0;
        let mut t_k = vec![[0.0; N]; N];
        for _ in 0..1500 {
            for x in 1..N {
                for y in 0..N {
                    if inside(x, y) {
                        t_k[x][y] = 1.0;
                        continue;
                    }
                    let (right, up, down) = ((x + 1).min(N - 1), (y + 1).min(N - 1), if y == 0 { 1 } else { y - 1 });
                    let mean = (t_k[x - 1][y] + t_k[right][y] + t_k[x][up] + t_k[x][down]) / 4.0;
                    t_k[x][y] += 1.95 * (mean - t_k[x][y]);
                }
            }
        }
        // What flows over the plane, on both sides of the line, for the 2 K between the rods.
        let flows: f64 = (0..N).map(|y| t_k[1][y] * if y == 0 { 1.0 } else { 2.0 }).sum();
        flows / 2.0
    }

    #[test]
    fn two_rods_conduct_as_a_solution_by_finite_differences_says() {
        for ratio in [1.2, 1.4] {
            let (solved, told) = (shape_by_differences(ratio), between_rods_m(1000.0, 1.0, ratio));
            assert!((1.0..1.1).contains(&(told / solved)), "{ratio} diameters apart: {told} against {solved}");
        }
    }

    /// A row of cells of which one makes heat, each with a way to the wall: in a long row the rise falls off by a factor r from cell to
    /// cell, g (r + 1/r − 2) = h, and is q / (h + 2 g (1 − r)) where the heat is; on the way there it follows small explicit steps.
    #[test]
    fn a_row_of_cells_warms_as_worked_out_and_as_small_steps_say() {
        const CELLS: usize = 41;
        const MIDDLE: usize = CELLS / 2;
        let (h, g, j_per_k, q_w) = (0.03, 0.08, 42.0, 1.5);
        let mut paths = HeatPaths::of_cells(CELLS, j_per_k);
        for cell in 0..CELLS {
            paths.join(cell, None, h);
            if cell > 0 {
                paths.join(cell - 1, Some(cell), g);
            }
        }
        let mut heat_w = vec![0.0; CELLS];
        heat_w[MIDDLE] = q_w;
        let half = 1.0 + h / (2.0 * g);
        let r = half - (half * half - 1.0).sqrt();
        let steady_k = paths.steady_k(&heat_w).unwrap();
        for away in 0..6_usize {
            let told_k = q_w / (h + 2.0 * g * (1.0 - r)) * r.powi(away as i32);
            assert!(
                (steady_k[MIDDLE + away] - told_k).abs() < 1e-3,
                "{away}: {} against {told_k}",
                steady_k[MIDDLE + away]
            );
        }
        let (seconds, steps) = (600.0, 60_000);
        let mut rise_k = vec![0.0; CELLS];
        for _ in 0..steps {
            let before = rise_k.clone();
            for cell in 0..CELLS {
                let sides = [cell.checked_sub(1), Some(cell + 1).filter(|&c| c < CELLS)];
                let across: f64 = sides.into_iter().flatten().map(|next| g * (before[next] - before[cell])).sum();
                rise_k[cell] += (heat_w[cell] + across - h * before[cell]) * seconds / f64::from(steps) / j_per_k;
            }
        }
        let after_k = paths.after_k(&heat_w, seconds).unwrap();
        for cell in MIDDLE..MIDDLE + 4 {
            assert!(
                (after_k[cell] / rise_k[cell] - 1.0).abs() < 0.02,
                "{cell}: {} against {}",
                after_k[cell],
                rise_k[cell]
            );
        }
    }

    #[test]
    fn a_cell_without_a_way_out_has_no_steady_temperature() {
        assert_eq!(HeatPaths::of_cells(1, 40.0).steady_k(&[1.0]), None);
    }
}
