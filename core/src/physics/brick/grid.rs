//! The lattice on which cells sit: sites, where they lie, and which are neighbours.

use crate::plan::{Axis, CellSize, Clearances, Lattice, Layout, Seat};

/// Whether cells are round with an end on each face, or flat with both terminals on one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Form {
    /// A can: one terminal on each end.
    Round,
    /// A pouch or prismatic cell: both terminals on one face.
    Flat,
}

/// A place for one cell.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Site {
    /// Layer, from 0.
    pub layer: u32,
    /// Row, from 0.
    pub row: u32,
    /// Column, from 0.
    pub column: u32,
}

impl From<&Seat> for Site {
    fn from(seat: &Seat) -> Site {
        Site { layer: seat.layer, row: seat.row, column: seat.column }
    }
}

/// Directions on the lattice along which a strip can lie.
pub const LINES: usize = 3;

/// A lattice of so many columns, rows and layers.
#[derive(Debug, Clone, PartialEq)]
pub struct Grid {
    /// How the rows lie.
    pub lattice: Lattice,
    /// Directions of columns, rows and cells.
    pub axes: [Axis; 3],
    /// Columns, rows, layers.
    pub counts: [u32; 3],
    /// Size of a cell along columns, rows and its axis; a flat one swollen.
    pub cell_mm: [f64; 3],
    /// From one cell to the next along columns, rows and layers.
    pub pitch_mm: [f64; 3],
    /// Room for strips below and above each layer.
    pub ends_mm: [f64; 2],
    /// Round or flat.
    pub form: Form,
}

impl Grid {
    /// A lattice for cells of that size. `axes` are the directions of columns, rows and cells.
    ///
    /// The pitch is the cell and a gap; staggered rows lie sqrt(3)/2 of it apart, so that all neighbours touch alike.
    pub fn new(size: &CellSize, clear: &Clearances, lattice: Lattice, axes: [Axis; 3], counts: [u32; 3]) -> Grid {
        let (form, cell_mm) = match *size {
            CellSize::Cylindrical { diameter_mm, length_mm } => (Form::Round, [diameter_mm, diameter_mm, length_mm]),
            CellSize::Pouch { thickness_mm, width_mm, length_mm }
            | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => {
                (Form::Flat, [thickness_mm * (1.0 + clear.swelling_share), width_mm, length_mm])
            }
        };
        let ends_mm = [if form == Form::Round { clear.ends_mm } else { 0.0 }, clear.ends_mm];
        let column_mm = cell_mm[0] + clear.gap_mm;
        let row_mm = match lattice {
            Lattice::Square => cell_mm[1] + clear.gap_mm,
            Lattice::Staggered | Lattice::StaggeredShort => column_mm * 0.75_f64.sqrt(),
        };
        let layer_mm = cell_mm[2] + ends_mm[0] + ends_mm[1] + clear.between_layers_mm;
        Grid { lattice, axes, counts, cell_mm, pitch_mm: [column_mm, row_mm, layer_mm], ends_mm, form }
    }

    /// The lattice of a layout.
    pub fn of(layout: &Layout, size: &CellSize, clear: &Clearances) -> Grid {
        let axes = axes(layout.axis, layout.columns_along);
        Grid::new(size, clear, layout.lattice, axes, [layout.columns, layout.rows, layout.layers])
    }

    /// Cells in that row of a layer.
    pub fn row_holds(&self, row: u32) -> u32 {
        let short = self.lattice == Lattice::StaggeredShort && row % 2 == 1;
        self.counts[0].saturating_sub(u32::from(short))
    }

    /// Whether there is such a site.
    pub fn has(&self, site: Site) -> bool {
        site.layer < self.counts[2] && site.row < self.counts[1] && site.column < self.row_holds(site.row)
    }

    /// Every site, layer by layer, row by row.
    pub fn sites(&self) -> impl Iterator<Item = Site> + '_ {
        let [_, rows, layers] = self.counts;
        (0..layers).flat_map(move |layer| {
            (0..rows).flat_map(move |row| (0..self.row_holds(row)).map(move |column| Site { layer, row, column }))
        })
    }

    /// Sites of one layer.
    pub fn layer_holds(&self) -> u32 {
        (0..self.counts[1]).map(|row| self.row_holds(row)).sum()
    }

    /// A number for each site, below [`Grid::places`].
    pub fn index(&self, site: Site) -> usize {
        let [columns, rows, _] = self.counts;
        ((site.layer * rows + site.row) * columns + site.column) as usize
    }

    /// How many numbers [`Grid::index`] gives.
    pub fn places(&self) -> usize {
        self.counts.iter().product::<u32>() as usize
    }

    fn is_shifted(&self, row: u32) -> bool {
        self.lattice != Lattice::Square && row % 2 == 1
    }

    /// Middle of a site on the face: along columns, along rows; the first cell begins at 0.
    pub fn middle_mm(&self, site: Site) -> [f64; 2] {
        let shift = if self.is_shifted(site.row) { 0.5 } else { 0.0 };
        [
            (f64::from(site.column) + shift) * self.pitch_mm[0] + self.cell_mm[0] / 2.0,
            f64::from(site.row) * self.pitch_mm[1] + self.cell_mm[1] / 2.0,
        ]
    }

    /// Middle of a cell in the compartment, where the lattice begins at `at_mm`.
    pub fn middle_in_mm(&self, site: Site, at_mm: [f64; 3]) -> [f64; 3] {
        let [column_mm, row_mm] = self.middle_mm(site);
        let along_mm = self.ends_mm[0] + self.cell_mm[2] / 2.0 + f64::from(site.layer) * self.pitch_mm[2];
        let mut found = at_mm;
        for (axis, length_mm) in self.axes.into_iter().zip([column_mm, row_mm, along_mm]) {
            found[axis.index()] += length_mm;
        }
        found
    }

    /// Low and high corner of what these sites take along x, y and z, strips included, where the lattice begins at 0.
    pub fn taken_mm(&self, sites: impl Iterator<Item = Site>) -> ([f64; 3], [f64; 3]) {
        let (mut low_mm, mut high_mm) = ([f64::MAX; 3], [f64::MIN; 3]);
        let half_mm = [self.cell_mm[0] / 2.0, self.cell_mm[1] / 2.0, self.cell_mm[2] / 2.0];
        for site in sites {
            let middle_mm = self.middle_in_mm(site, [0.0; 3]);
            for (k, axis) in self.axes.into_iter().enumerate() {
                let (below_mm, above_mm) = if k == 2 { (self.ends_mm[0], self.ends_mm[1]) } else { (0.0, 0.0) };
                let i = axis.index();
                low_mm[i] = low_mm[i].min(middle_mm[i] - half_mm[k] - below_mm);
                high_mm[i] = high_mm[i].max(middle_mm[i] + half_mm[k] + above_mm);
            }
        }
        (low_mm, high_mm)
    }

    /// What the whole lattice takes along x, y and z, strips included.
    pub fn size_mm(&self) -> [f64; 3] {
        let [columns, rows, layers] = self.counts;
        let shift = match self.lattice {
            Lattice::Staggered if rows > 1 => 0.5,
            _ => 0.0,
        };
        let taken_mm = [
            (f64::from(columns) - 1.0 + shift) * self.pitch_mm[0] + self.cell_mm[0],
            (f64::from(rows) - 1.0) * self.pitch_mm[1] + self.cell_mm[1],
            (f64::from(layers) - 1.0) * self.pitch_mm[2] + self.cell_mm[2] + self.ends_mm[0] + self.ends_mm[1],
        ];
        let mut size_mm = [0.0; 3];
        for (axis, length_mm) in self.axes.into_iter().zip(taken_mm) {
            size_mm[axis.index()] = length_mm;
        }
        size_mm
    }

    /// The next site along a straight line: 0 along the row, 1 and 2 to the next row. Flat cells have only their stack.
    pub fn next(&self, site: Site, line: usize) -> Option<Site> {
        let (column, row) = (site.column, site.row + 1);
        let next = match (line, self.lattice, self.form) {
            (0, ..) => Site { column: column + 1, ..site },
            (_, _, Form::Flat) | (2, Lattice::Square, _) => return None,
            (1, Lattice::Square, _) => Site { row, ..site },
            (1, ..) => Site { row, column: column + u32::from(self.is_shifted(site.row)), ..site },
            _ => Site { row, column: (column + u32::from(self.is_shifted(site.row))).checked_sub(1)?, ..site },
        };
        self.has(next).then_some(next)
    }

    /// The site before along a straight line.
    pub fn before(&self, site: Site, line: usize) -> Option<Site> {
        let row = site.row.checked_sub(1);
        let shifted = u32::from(row.is_some_and(|row| self.is_shifted(row)));
        let before = match (line, self.lattice, self.form) {
            (0, ..) => Site { column: site.column.checked_sub(1)?, ..site },
            (_, _, Form::Flat) | (2, Lattice::Square, _) => return None,
            (1, Lattice::Square, _) => Site { row: row?, ..site },
            (1, ..) => Site { row: row?, column: site.column.checked_sub(shifted)?, ..site },
            _ => Site { row: row?, column: site.column + 1 - shifted, ..site },
        };
        self.has(before).then_some(before)
    }

    /// Every site that a strip can reach from here in one step.
    pub fn neighbours(&self, site: Site) -> impl Iterator<Item = Site> + '_ {
        (0..LINES).flat_map(move |line| [self.next(site, line), self.before(site, line)]).flatten()
    }
}

/// Directions of columns, rows and cells, where columns and cells are given.
pub fn axes(axis: Axis, columns_along: Axis) -> [Axis; 3] {
    let rows_along = Axis::ALL.into_iter().find(|&a| a != axis && a != columns_along).unwrap_or(axis);
    [columns_along, rows_along, axis]
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::HashSet;
    use std::f64::consts::PI;

    fn bare() -> Clearances {
        Clearances { gap_mm: 0.0, ends_mm: 0.0, between_layers_mm: 0.0, ..Clearances::default() }
    }

    fn grid(lattice: Lattice, counts: [u32; 3]) -> Grid {
        let size = CellSize::Cylindrical { diameter_mm: 18.0, length_mm: 65.0 };
        Grid::new(&size, &bare(), lattice, [Axis::X, Axis::Y, Axis::Z], counts)
    }

    /// Share of the plane that circles cover: pi/4 on the square lattice, pi/(2 sqrt 3) on the staggered one, the
    /// densest there is (Thue 1892).
    #[test]
    fn a_large_lattice_covers_the_plane_as_geometry_says() {
        for (lattice, density) in [
            (Lattice::Square, PI / 4.0),
            (Lattice::Staggered, PI / 12.0_f64.sqrt()),
            (Lattice::StaggeredShort, PI / 12.0_f64.sqrt()),
        ] {
            let large = grid(lattice, [600, 600, 1]);
            let [x, y, _] = large.size_mm();
            let covered = f64::from(large.layer_holds()) * PI * 81.0 / (x * y);
            assert!((covered - density).abs() < 0.003, "{lattice:?}: {covered} against {density}");
        }
    }

    /// By hand, 18 mm cells: 3 staggered rows lie 2 x 15.588 mm apart, 31.177 + 18 = 49.177 mm; the shifted row makes
    /// a row of 4 cells 81 mm long instead of 72.
    #[test]
    fn a_lattice_is_as_large_as_worked_by_hand() {
        let close = |found: f64, wanted: f64| assert!((found - wanted).abs() < 1e-3, "{found} against {wanted}");
        let [x, y, z] = grid(Lattice::Staggered, [4, 3, 1]).size_mm();
        close(x, 81.0);
        close(y, 49.177);
        close(z, 65.0);
        assert_eq!(grid(Lattice::StaggeredShort, [4, 3, 1]).layer_holds(), 11);
        close(grid(Lattice::StaggeredShort, [4, 3, 1]).size_mm()[0], 72.0);
    }

    /// Two cells are neighbours when their middles lie one pitch apart, and only then.
    #[test]
    fn neighbours_are_those_a_pitch_away() {
        for lattice in [Lattice::Square, Lattice::Staggered, Lattice::StaggeredShort] {
            let g = grid(lattice, [4, 5, 2]);
            for a in g.sites() {
                let near: HashSet<Site> = g.neighbours(a).collect();
                for b in g.sites().filter(|&b| b != a) {
                    let ([ax, ay], [bx, by]) = (g.middle_mm(a), g.middle_mm(b));
                    let is_near = a.layer == b.layer && ((ax - bx).hypot(ay - by) - 18.0).abs() < 1e-6;
                    assert_eq!(near.contains(&b), is_near, "{lattice:?} {a:?} {b:?}");
                }
            }
        }
    }

    #[test]
    fn going_on_and_back_along_a_line_returns() {
        for lattice in [Lattice::Square, Lattice::Staggered, Lattice::StaggeredShort] {
            let g = grid(lattice, [3, 4, 1]);
            for site in g.sites() {
                for line in 0..LINES {
                    if let Some(next) = g.next(site, line) {
                        assert_eq!(g.before(next, line), Some(site), "{lattice:?} {site:?} {line}");
                    }
                }
            }
        }
    }

    #[test]
    fn flat_cells_are_neighbours_in_their_stack_only_and_swell() {
        let size = CellSize::Pouch { thickness_mm: 10.0, width_mm: 40.0, length_mm: 100.0 };
        let clear = Clearances { swelling_share: 0.08, gap_mm: 0.2, ends_mm: 3.0, ..bare() };
        let g = Grid::new(&size, &clear, Lattice::Square, [Axis::X, Axis::Y, Axis::Z], [3, 2, 1]);
        // By hand: 3 x 10.8 + 2 x 0.2 = 32.8; 2 x 40 + 0.2; terminals on top only.
        let wanted = [32.8, 80.2, 103.0];
        assert!(g.size_mm().iter().zip(wanted).all(|(a, b)| (a - b).abs() < 1e-9), "{:?}", g.size_mm());
        let middle = Site { layer: 0, row: 0, column: 1 };
        assert_eq!(g.neighbours(middle).count(), 2);
    }
}
