//! What is wrong with a layout as it stands: groups that fall apart, ends on the wrong face, shorts, sites that are not free.

use super::grid::{Form, Grid, Site};
use super::joints::Seating;
use super::metal::{Piece, groups_of, terminal_mm};
use crate::base::limit::below;
use crate::plan::Layout;

/// Least way between strips of different potential. Common practice, no source.
pub const STRIPS_APART_MM: f64 = 1.0;
/// Least gap that has room for a sheet between cells. Common practice, no source.
pub const SHEET_MM: f64 = 0.2;

/// A fault of a layout.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Fault {
    /// It was made for other counts.
    OtherCounts {
        /// Cells it seats.
        seats: usize,
        /// Cells of the pack.
        cells: usize,
    },
    /// Cells of one group are turned against one another: its strips would join both nodes.
    Short {
        /// The group, from 1.
        group: usize,
        /// Labels of the cells that are the fewer.
        cells: Vec<String>,
    },
    /// A group that no strip can hold together.
    Apart {
        /// The group, from 1.
        group: usize,
        /// Into how many parts it falls.
        parts: usize,
    },
    /// Neighbours of the chain show their joint on opposite faces.
    Faces {
        /// The group, from 1; the next one has its end on the other face.
        group: usize,
    },
    /// Strips of different nodes lie too near.
    Near {
        /// The lower node.
        node: usize,
        /// The other node.
        other: usize,
    },
}

/// Everything wrong with where the cells sit and how they stand, whatever the compartment.
pub fn faults(layout: &Layout, grid: &Grid, series: usize, parallel: usize) -> Vec<Fault> {
    let cells = series * parallel;
    if layout.cells.len() != cells {
        return vec![Fault::OtherCounts { seats: layout.cells.len(), cells }];
    }
    let seating = Seating::new(grid, groups_of(layout, parallel));
    let groups = &seating.groups;
    let ups = |g: usize| layout.cells[g * parallel..(g + 1) * parallel].iter().map(|s| s.plus_up);
    let mut found = vec![];
    for (g, sites) in groups.iter().enumerate() {
        let up = ups(g).filter(|&up| up).count();
        if up > 0 && up < parallel {
            let fewer = up * 2 <= parallel;
            let turned = ups(g).enumerate().filter(|&(_, u)| u == fewer).map(|(k, _)| label(g, k)).collect();
            found.push(Fault::Short { group: g + 1, cells: turned });
        }
        let parts = seating.parts(g);
        if parts > 1 {
            found.push(Fault::Apart { group: g + 1, parts });
        }
        if g + 1 < series
            && sites[0].layer == groups[g + 1][0].layer
            && layout.cells[g * parallel].plus_up == layout.cells[(g + 1) * parallel].plus_up
        {
            found.push(Fault::Faces { group: g + 1 });
        }
    }
    found
}

/// Label of a cell in a layout: group and letter.
pub fn label(group: usize, cell: usize) -> String {
    let letter = |k: usize| char::from(b'a' + (k % 26) as u8);
    let letters: String =
        if cell < 26 { letter(cell).to_string() } else { [letter(cell / 26 - 1), letter(cell)].iter().collect() };
    format!("{}{letters}", group + 1)
}

/// Pairs of nodes whose strips, so wide, come too near on a face.
pub fn near(pieces: &[Piece], grid: &Grid, strip_mm: f64) -> Vec<Fault> {
    let reach_mm = strip_mm + STRIPS_APART_MM;
    let drawn: Vec<Drawn> = pieces.iter().map(|p| Drawn::of(p, grid)).collect();
    let mut found: Vec<Fault> = vec![];
    for (k, (a, a_strips)) in pieces.iter().zip(&drawn).enumerate() {
        for (b, b_strips) in pieces[k + 1..].iter().zip(&drawn[k + 1..]) {
            let same_face = a.layer == b.layer && (a.end == b.end || grid.form == Form::Flat);
            if !same_face || a.node == b.node || a_strips.is_far_from(b_strips, reach_mm) {
                continue;
            }
            let is_near =
                a_strips.lines.iter().any(|s| b_strips.lines.iter().any(|t| below(apart_mm(*s, *t), reach_mm)));
            let fault = Fault::Near { node: a.node.min(b.node), other: a.node.max(b.node) };
            if is_near && !found.contains(&fault) {
                found.push(fault);
            }
        }
    }
    found
}

/// The straight lines of a piece on its face, and the box round them.
struct Drawn {
    lines: Vec<([f64; 2], [f64; 2])>,
    low_mm: [f64; 2],
    high_mm: [f64; 2],
}

impl Drawn {
    fn of(piece: &Piece, grid: &Grid) -> Drawn {
        let at = |s: Site| terminal_mm(grid, s, piece.end);
        let ends = |sites: &[Site]| (at(sites[0]), at(sites[sites.len() - 1]));
        // A lone terminal gets a strip too: the tab or the wire that is soldered to one.
        let lone = piece.lines.is_empty().then(|| ends(&piece.sites[..1]));
        let lines: Vec<_> = piece.lines.iter().map(|l| ends(&l.sites)).chain(lone).collect();
        let (mut low_mm, mut high_mm) = ([f64::MAX; 2], [f64::MIN; 2]);
        for point in lines.iter().flat_map(|(a, b)| [a, b]) {
            for i in 0..2 {
                low_mm[i] = low_mm[i].min(point[i]);
                high_mm[i] = high_mm[i].max(point[i]);
            }
        }
        Drawn { lines, low_mm, high_mm }
    }

    fn is_far_from(&self, other: &Drawn, reach_mm: f64) -> bool {
        (0..2).any(|i| self.low_mm[i] > other.high_mm[i] + reach_mm || other.low_mm[i] > self.high_mm[i] + reach_mm)
    }
}

/// Way between two straight strips, middle to middle.
fn apart_mm((a, b): ([f64; 2], [f64; 2]), (c, d): ([f64; 2], [f64; 2])) -> f64 {
    let to = |p: [f64; 2], (a, b): ([f64; 2], [f64; 2])| {
        let (dx, dy) = (b[0] - a[0], b[1] - a[1]);
        let length2 = dx * dx + dy * dy;
        let t = if length2 > 0.0 { (((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / length2).clamp(0.0, 1.0) } else { 0.0 };
        (p[0] - a[0] - t * dx).hypot(p[1] - a[1] - t * dy)
    };
    // Strips of different nodes never cross on a lattice, so that an end is always the nearest.
    [to(a, (c, d)), to(b, (c, d)), to(c, (a, b)), to(d, (a, b))].into_iter().fold(f64::MAX, f64::min)
}
