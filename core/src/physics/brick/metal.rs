//! The strips on the faces of a layout: which terminals they join, along which straight lines they lie.
//!
//! A node is a potential: B0 is pack minus, Bk lies between group k and group k + 1, BS is pack plus. On one face all
//! neighbouring terminals of one node become one piece: strips across from group to group carry the current of the
//! pack, strips along a group hold it together.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::grid::{Form, Grid, LINES, Site};
use crate::plan::Layout;

/// An end of the cells, where strips lie.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum End {
    /// The face at the far end of the cells' direction; of flat cells, the tabs toward the first row.
    Top,
    /// The other face; of flat cells, the tabs toward the last row.
    Bottom,
}

/// A strip along a straight line of neighbouring terminals.
#[derive(Debug, Clone, PartialEq)]
pub struct Line {
    /// Terminals under it, in order.
    pub sites: Vec<Site>,
    /// Pairs at which it crosses from a group to the next; none on a strip that only holds a group together.
    pub crossings: usize,
}

/// Terminals of one node on one face that strips join.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// The node: 0 is pack minus.
    pub node: usize,
    /// Layer it lies on.
    pub layer: u32,
    /// Face it lies on.
    pub end: End,
    /// Its terminals.
    pub sites: Vec<Site>,
    /// Its strips; none where it is a single terminal.
    pub lines: Vec<Line>,
}

/// Sites of each group of a layout, from pack minus.
pub fn groups_of(layout: &Layout, parallel: usize) -> Vec<Vec<Site>> {
    layout.cells.chunks(parallel.max(1)).map(|seats| seats.iter().map(Site::from).collect()).collect()
}

/// Every piece of a layout, node by node.
///
/// Only terminals of one node are ever joined: a turned cell in a group is told as a short, not drawn as one.
pub fn pieces(layout: &Layout, grid: &Grid, parallel: usize) -> Vec<Piece> {
    let groups = groups_of(layout, parallel);
    let up = |g: usize, k: usize| layout.cells.get(g * parallel + k).is_some_and(|s| s.plus_up);
    let mut found = vec![];
    for node in 0..=groups.len() {
        let near = [node.checked_sub(1), Some(node)].into_iter().flatten().filter_map(|g| groups.get(g)).flatten();
        let mut layers: Vec<u32> = near.map(|s| s.layer).collect();
        layers.sort_unstable();
        layers.dedup();
        for layer in layers {
            for end in [End::Top, End::Bottom] {
                // Plus ends of the group below this node, minus ends of the group above it.
                let ends = |g: Option<usize>, plus: bool| -> Vec<Site> {
                    let Some((g, sites)) = g.and_then(|g| groups.get(g).map(|sites| (g, sites))) else { return vec![] };
                    let shows = |k: usize| (up(g, k) == plus) == (end == End::Top);
                    sites.iter().enumerate().filter(|&(k, s)| s.layer == layer && shows(k)).map(|(_, &s)| s).collect()
                };
                let (below, above) = (ends(node.checked_sub(1), true), ends(Some(node), false));
                let lines = lines(grid, &below, &above);
                found.extend(split(grid, &below, &above, lines).into_iter().map(|(sites, lines)| Piece {
                    node,
                    layer,
                    end,
                    sites,
                    lines,
                }));
            }
        }
    }
    found
}

/// Strips that join two groups' terminals on a face: first across, then along whatever still falls apart.
fn lines(grid: &Grid, below: &[Site], above: &[Site]) -> Vec<Line> {
    let mut sides: Vec<Option<u8>> = vec![None; grid.places()];
    for (sites, side) in [(below, 0), (above, 1)] {
        sites.iter().for_each(|&s| sides[grid.index(s)] = Some(side));
    }
    let side = |s: Site| sides[grid.index(s)];
    let all: Vec<Site> = below.iter().chain(above).copied().collect();
    let across: Vec<Vec<Line>> = (0..LINES)
        .map(|line| {
            let runs = runs(grid, &all, line, |a, b| side(a).is_some() && side(b).is_some());
            let crossings = |run: &[Site]| run.windows(2).filter(|w| side(w[0]) != side(w[1])).count();
            runs.into_iter()
                .map(|sites| Line { crossings: crossings(&sites), sites })
                .filter(|l| l.crossings > 0)
                .collect()
        })
        .collect();
    let total = |lines: &Vec<Line>| lines.iter().map(|l| l.crossings).sum::<usize>();
    // The first of the best, so that strips lie along the rows where both ways are alike.
    let mut found = across.into_iter().rev().max_by_key(total).unwrap_or_default();
    let mut along: Vec<Vec<Site>> =
        (0..LINES).flat_map(|line| runs(grid, &all, line, |a, b| side(a).is_some() && side(a) == side(b))).collect();
    along.sort_by_key(|run| std::cmp::Reverse(run.len()));
    // Groups are held together each by itself: the strips across are not counted on for that.
    let mut own = Joined::new(grid);
    for strip in found.iter().flat_map(|l| l.sites.chunk_by(|&a, &b| side(a) == side(b))) {
        own.join(strip);
    }
    for run in along {
        if run.iter().any(|&s| !own.are_joined(s, run[0])) {
            own.join(&run);
            found.push(Line { sites: run, crossings: 0 });
        }
    }
    found
}

/// Which terminals strips join: a forest in which each points toward the first of its tree.
struct Joined<'g> {
    grid: &'g Grid,
    toward: Vec<usize>,
}

impl<'g> Joined<'g> {
    fn new(grid: &'g Grid) -> Joined<'g> {
        Joined { grid, toward: (0..grid.places()).collect() }
    }

    fn first(&mut self, site: Site) -> usize {
        let mut at = self.grid.index(site);
        while self.toward[at] != at {
            self.toward[at] = self.toward[self.toward[at]];
            at = self.toward[at];
        }
        at
    }

    fn join(&mut self, strip: &[Site]) {
        for pair in strip.windows(2) {
            let (a, b) = (self.first(pair[0]), self.first(pair[1]));
            self.toward[a] = b;
        }
    }

    fn are_joined(&mut self, a: Site, b: Site) -> bool {
        self.first(a) == self.first(b)
    }
}

/// Straight runs of at least two sites whose neighbours belong together.
fn runs(grid: &Grid, sites: &[Site], line: usize, together: impl Fn(Site, Site) -> bool) -> Vec<Vec<Site>> {
    let mut found = vec![];
    for &start in sites {
        if grid.before(start, line).is_some_and(|b| together(b, start)) {
            continue;
        }
        let mut run = vec![start];
        let mut last = start;
        while let Some(next) = grid.next(last, line).filter(|&n| together(last, n)) {
            run.push(next);
            last = next;
        }
        if run.len() > 1 {
            found.push(run);
        }
    }
    found
}

/// Terminals and strips, split into what hangs together.
fn split(grid: &Grid, below: &[Site], above: &[Site], lines: Vec<Line>) -> Vec<(Vec<Site>, Vec<Line>)> {
    let mut all = Joined::new(grid);
    lines.iter().for_each(|l| all.join(&l.sites));
    let mut found: Vec<(usize, Vec<Site>, Vec<Line>)> = vec![];
    for &site in below.iter().chain(above) {
        let first = all.first(site);
        match found.iter_mut().find(|(f, ..)| *f == first) {
            Some((_, sites, _)) => sites.push(site),
            None => found.push((first, vec![site], vec![])),
        }
    }
    for line in lines {
        let first = all.first(line.sites[0]);
        if let Some((_, _, own)) = found.iter_mut().find(|(f, ..)| *f == first) {
            own.push(line);
        }
    }
    found.into_iter().map(|(_, sites, lines)| (sites, lines)).collect()
}

/// What the strips of a layout come to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Merit {
    /// Links between groups that only a wire can make.
    pub wires: usize,
    /// Strips side by side across the narrowest link by strip; none where every link is a wire.
    pub narrowest: Option<usize>,
    /// Strips to cut.
    pub strips: usize,
    /// Their length from first to last weld together.
    pub strip_mm: f64,
    /// Way from weld to weld across a link.
    pub pitch_mm: f64,
}

/// Counts the strips of a layout.
pub fn merit(pieces: &[Piece], grid: &Grid, series: usize) -> Merit {
    let mut narrowest: Option<usize> = None;
    let mut wires = 0;
    for node in 1..series {
        let crossings: usize =
            pieces.iter().filter(|p| p.node == node).flat_map(|p| &p.lines).map(|l| l.crossings).sum();
        if crossings == 0 {
            wires += 1;
        } else {
            narrowest = Some(narrowest.map_or(crossings, |n| n.min(crossings)));
        }
    }
    let lines = || pieces.iter().flat_map(|p| &p.lines);
    let length_mm = |line: &Line| {
        let ends = (line.sites[0], line.sites[line.sites.len() - 1]);
        let ([ax, ay], [bx, by]) = (grid.middle_mm(ends.0), grid.middle_mm(ends.1));
        (ax - bx).hypot(ay - by)
    };
    Merit {
        wires,
        narrowest,
        strips: lines().count(),
        strip_mm: lines().map(length_mm).sum(),
        pitch_mm: grid.pitch_mm[0],
    }
}

/// Where a terminal lies on the drawn face: along columns, along rows.
///
/// The two tabs of a flat cell lie a quarter of its width from the middle.
pub fn terminal_mm(grid: &Grid, site: Site, end: End) -> [f64; 2] {
    let [x, y] = grid.middle_mm(site);
    match (grid.form, end) {
        (Form::Round, _) => [x, y],
        (Form::Flat, End::Top) => [x, y - grid.cell_mm[1] / 4.0],
        (Form::Flat, End::Bottom) => [x, y + grid.cell_mm[1] / 4.0],
    }
}
