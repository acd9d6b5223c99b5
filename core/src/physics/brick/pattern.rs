//! The usual ways to lay groups on a lattice: an order of the sites, cut into groups.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::grid::{Grid, Site};
use super::joints::{Seating, Wanted};

/// A way to lay the groups.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Pattern {
    /// Straight bars side by side, as the rungs of a ladder.
    Ladder,
    /// Blocks as square as can be.
    Blocks,
    /// Row after row, to and fro.
    Snake,
    /// Round and round, from outside in.
    Spiral,
}

/// How many groups each layer takes, from the first; as even as its free sites allow. `None` if they do not suffice.
pub fn share_layers(free: &[Vec<Site>], series: usize, parallel: usize) -> Option<Vec<usize>> {
    let mut left = series;
    let mut shares = vec![];
    for (k, sites) in free.iter().enumerate() {
        let even = left.div_ceil(free.len() - k);
        let later: usize = free[k + 1..].iter().map(|s| s.len() / parallel).sum();
        let share = even.max(left.saturating_sub(later)).min(sites.len() / parallel);
        shares.push(share);
        left -= share;
    }
    (left == 0).then_some(shares)
}

/// Every seating of the usual patterns, those that fall apart among them; mirrored and reversed where that matters: the
/// ends are wanted somewhere, or something in the way takes sites.
///
/// `free` are the sites that may be used, layer by layer.
pub fn patterns<'g>(
    grid: &'g Grid,
    free: &[Vec<Site>],
    series: usize,
    parallel: usize,
    wanted: Wanted,
) -> Vec<(Pattern, Seating<'g>)> {
    let Some(shares) = share_layers(free, series, parallel) else { return vec![] };
    let cut_out = free.iter().any(|sites| (sites.len() as u32) < grid.layer_holds());
    let mirrors: &[[bool; 2]] = if cut_out || wanted != Wanted::default() {
        &[[false, false], [true, false], [false, true], [true, true]]
    } else {
        &[[false, false]]
    };
    let backs: &[bool] = if wanted == Wanted::default() { &[false] } else { &[false, true] };
    let empty = Seating::new(grid, vec![]);
    let mut found: Vec<(Pattern, Seating<'g>)> = vec![];
    for way in Way::all(parallel) {
        for &mirror in mirrors {
            for &back in backs {
                let mut groups: Vec<Vec<Site>> = vec![];
                for (layer, (sites, &share)) in free.iter().zip(&shares).enumerate() {
                    let mut order = way.order(grid, sites, mirror);
                    order.truncate(share * parallel);
                    // Each further layer begins where the one before it ended.
                    if back != (layer % 2 == 1) {
                        order.reverse();
                    }
                    groups.extend(order.chunks(parallel).map(<[Site]>::to_vec));
                }
                let seating = empty.with(groups);
                if found.iter().all(|(_, other)| other.groups != seating.groups) {
                    found.push((way.pattern(), seating));
                }
            }
        }
    }
    found
}

/// The best seating of each pattern that holds together, the best first.
pub fn best_of_each<'g>(found: Vec<(Pattern, Seating<'g>)>, wanted: Wanted) -> Vec<(Pattern, Seating<'g>)> {
    let mut judged: Vec<(f64, Pattern, Seating<'g>)> =
        found.into_iter().map(|(pattern, seating)| (seating.cost_mm(wanted), pattern, seating)).collect();
    judged.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let mut best: Vec<(Pattern, Seating<'g>)> = vec![];
    for (_, pattern, seating) in judged {
        if best.iter().all(|(p, _)| *p != pattern) {
            best.push((pattern, seating));
        }
    }
    best
}

/// One order of the sites.
#[derive(Debug, Clone, Copy)]
enum Way {
    /// Blocks of so many columns and rows, to and fro, along the rows or the columns.
    Blocks { columns: u32, rows: u32, down: bool },
    /// Row after row, or column after column.
    Snake { down: bool },
    /// Rings from outside in.
    Spiral,
}

impl Way {
    fn all(parallel: usize) -> Vec<Way> {
        let parallel = parallel as u32;
        let mut all = vec![Way::Snake { down: false }, Way::Snake { down: true }, Way::Spiral];
        for columns in (1..=parallel).filter(|c| parallel.is_multiple_of(*c)) {
            let rows = parallel / columns;
            all.extend([false, true].map(|down| Way::Blocks { columns, rows, down }));
        }
        all
    }

    fn pattern(self) -> Pattern {
        match self {
            Way::Blocks { columns, rows, .. } if columns == 1 || rows == 1 => Pattern::Ladder,
            Way::Blocks { .. } => Pattern::Blocks,
            Way::Snake { .. } => Pattern::Snake,
            Way::Spiral => Pattern::Spiral,
        }
    }

    fn order(self, grid: &Grid, sites: &[Site], [flip_columns, flip_rows]: [bool; 2]) -> Vec<Site> {
        let [columns, rows, _] = grid.counts;
        let seen = |s: &Site| {
            let column = if flip_columns { grid.row_holds(s.row) - 1 - s.column } else { s.column };
            let row = if flip_rows { rows - 1 - s.row } else { s.row };
            (column, row)
        };
        // Every second line runs back.
        let fro = |line: u32, along: u32, length: u32| if line % 2 == 1 { length - along } else { along };
        let key = |s: &Site| -> [u32; 4] {
            let (column, row) = seen(s);
            match self {
                Way::Snake { down: false } => [row, fro(row, column, columns), 0, 0],
                Way::Snake { down: true } => [column, fro(column, row, rows), 0, 0],
                Way::Blocks { columns: wide, rows: high, down } => {
                    let (bc, br) = (column / wide, row / high);
                    let (line, along, length) = if down { (bc, br, rows) } else { (br, bc, columns) };
                    // Inside a block to and fro too, so that a block cut short still hangs together.
                    let (inner, across) = (column % wide, row % high);
                    [line, fro(line, along, length), inner, fro(inner, across, high)]
                }
                Way::Spiral => {
                    let ring = column.min(row).min(columns - 1 - column).min(rows - 1 - row);
                    let (left, right, front, back) = (ring, columns - 1 - ring, ring, rows - 1 - ring);
                    let (width, height) = (right - left, back - front);
                    let along = if row == front {
                        column - left
                    } else if column >= right {
                        width + row - front
                    } else if row == back {
                        width + height + right - column
                    } else {
                        2 * width + height + back - row
                    };
                    [ring, along, 0, 0]
                }
            }
        };
        let mut order = sites.to_vec();
        order.sort_by_cached_key(key);
        order
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Axis, CellSize, Clearances, Lattice};

    fn grid(columns: u32, rows: u32, layers: u32) -> Grid {
        let size = CellSize::Cylindrical { diameter_mm: 18.4, length_mm: 65.2 };
        Grid::new(&size, &Clearances::default(), Lattice::Square, [Axis::X, Axis::Y, Axis::Z], [columns, rows, layers])
    }

    fn layers(grid: &Grid) -> Vec<Vec<Site>> {
        (0..grid.counts[2]).map(|l| grid.sites().filter(|s| s.layer == l).collect()).collect()
    }

    #[test]
    fn each_pattern_keeps_the_groups_whole_where_the_lattice_suits() {
        // Of four by two a spiral is a snake, and is not told twice.
        for (columns, rows, series, parallel, patterns_told) in
            [(4, 2, 4, 2, 2), (8, 6, 12, 4, 3), (10, 16, 16, 10, 3), (6, 6, 9, 4, 3)]
        {
            let g = grid(columns, rows, 1);
            let best = best_of_each(patterns(&g, &layers(&g), series, parallel, Wanted::default()), Wanted::default());
            let whole = best.iter().filter(|(_, s)| (0..series).all(|k| s.parts(k) == 1)).count();
            assert!(whole >= patterns_told, "{columns} x {rows}: {whole} of {}", best.len());
            let (_, first) = &best[0];
            assert!((0..series - 1).all(|k| first.contacts(k) > 0));
        }
    }

    /// By hand: bars of ten beside one another meet in all ten cells, so that each link is one pitch long.
    #[test]
    fn a_ladder_of_ten_in_parallel_meets_in_every_cell() {
        let g = grid(16, 10, 1);
        let best = best_of_each(patterns(&g, &layers(&g), 16, 10, Wanted::default()), Wanted::default());
        assert_eq!(best[0].0, Pattern::Ladder);
        assert!((0..15).all(|k| best[0].1.contacts(k) == 10));
        assert!((best[0].1.cost_mm(Wanted::default()) - 15.0 * 18.9).abs() < 1e-9);
    }

    #[test]
    fn a_spiral_visits_every_site_once_and_steps_to_a_neighbour() {
        let g = grid(5, 4, 1);
        let order = Way::Spiral.order(&g, &layers(&g)[0], [false, false]);
        assert_eq!(order.len(), 20);
        for pair in order.windows(2) {
            assert!(g.neighbours(pair[0]).any(|n| n == pair[1]), "{pair:?}");
        }
    }

    #[test]
    fn layers_share_the_groups_evenly_and_never_split_one() {
        let g = grid(3, 2, 2);
        assert_eq!(share_layers(&layers(&g), 4, 3), Some(vec![2, 2]));
        assert_eq!(share_layers(&layers(&g), 5, 2), Some(vec![3, 2]));
        // Two layers of five hold two pairs each, not five pairs.
        let five: Vec<Vec<Site>> = layers(&g)
            .into_iter()
            .map(|mut l| {
                l.pop();
                l
            })
            .collect();
        assert_eq!(share_layers(&five, 5, 2), None);
    }
}
