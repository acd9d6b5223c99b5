//! How well an assignment of groups to sites can be joined: whole groups, neighbours in the chain that meet.

use std::rc::Rc;

use super::grid::{Grid, LINES, Site};
use crate::plan::Edge;

/// What a group that falls apart costs for each further part, in millimetres of strip.
const PART_MM: f64 = 2_000.0;
/// What a link by wire costs besides the way it spans.
const WIRE_MM: f64 = 400.0;

/// What a millimetre from an end of the pack to where it is wanted counts: links carry the whole current, and come first.
const ENDS_SHARE: f64 = 0.1;

/// Which group sits on which site.
#[derive(Debug, Clone, PartialEq)]
pub struct Seating<'g> {
    /// The lattice.
    pub grid: &'g Grid,
    /// Sites of each group, from pack minus.
    pub groups: Vec<Vec<Site>>,
    group_of: Vec<Option<u16>>,
    /// Of each site the next and the one before along every line, by number; shared by all seatings of a lattice.
    near: Rc<Vec<[Option<u32>; 2 * LINES]>>,
}

/// Edges at which the pack's ends are wanted.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Wanted {
    /// Pack minus.
    pub minus_at: Option<Edge>,
    /// Pack plus.
    pub plus_at: Option<Edge>,
}

impl<'g> Seating<'g> {
    /// Groups as seated.
    pub fn new(grid: &'g Grid, groups: Vec<Vec<Site>>) -> Seating<'g> {
        let mut near = vec![[None; 2 * LINES]; grid.places()];
        for site in grid.sites() {
            for line in 0..LINES {
                let number = |s: Option<Site>| s.map(|s| grid.index(s) as u32);
                near[grid.index(site)][2 * line] = number(grid.next(site, line));
                near[grid.index(site)][2 * line + 1] = number(grid.before(site, line));
            }
        }
        Seating { grid, groups: vec![], group_of: vec![], near: Rc::new(near) }.with(groups)
    }

    /// Other groups on the same lattice.
    pub fn with(&self, groups: Vec<Vec<Site>>) -> Seating<'g> {
        let grid = self.grid;
        let mut group_of = vec![None; grid.places()];
        for (g, sites) in groups.iter().enumerate() {
            for &site in sites {
                group_of[grid.index(site)] = Some(g as u16);
            }
        }
        Seating { grid, groups, group_of, near: self.near.clone() }
    }

    /// The group on a site.
    pub fn at(&self, site: Site) -> Option<usize> {
        self.group_of[self.grid.index(site)].map(usize::from)
    }

    /// Into how many parts a group falls, when strips reach from neighbour to neighbour.
    pub fn parts(&self, group: usize) -> usize {
        let number = group as u16;
        let mut seen = vec![false; self.near.len()];
        let mut found = 0;
        let mut reached = vec![];
        for start in self.groups[group].iter().map(|&s| self.grid.index(s)) {
            if std::mem::replace(&mut seen[start], true) {
                continue;
            }
            found += 1;
            reached.push(start);
            while let Some(at) = reached.pop() {
                for near in self.near[at].into_iter().flatten().map(|n| n as usize) {
                    if self.group_of[near] == Some(number) && !std::mem::replace(&mut seen[near], true) {
                        reached.push(near);
                    }
                }
            }
        }
        found
    }

    /// Strips that can lie side by side from a group to the next: pairs that meet along one direction, the best of them.
    pub fn contacts(&self, group: usize) -> usize {
        let next = group + 1;
        if next >= self.groups.len() {
            return 0;
        }
        let next = Some(next as u16);
        let mut along = [0; LINES];
        for at in self.groups[group].iter().map(|&s| self.grid.index(s)) {
            for (k, near) in self.near[at].into_iter().enumerate() {
                along[k / 2] += usize::from(near.is_some_and(|n| self.group_of[n as usize] == next));
            }
        }
        along.into_iter().max().unwrap_or(0)
    }

    /// What the link from a group to the next costs: a strip from cell to cell shared by all of them is one pitch long,
    /// one that only few carry is as much longer; a wire counts its way.
    pub fn link_mm(&self, group: usize) -> f64 {
        if group + 1 >= self.groups.len() {
            return 0.0;
        }
        match self.contacts(group) {
            0 => {
                let (here, there) = (&self.groups[group], &self.groups[group + 1]);
                WIRE_MM + if here[0].layer == there[0].layer { self.apart_mm(here, there) } else { 0.0 }
            }
            n => {
                let cells = count(&self.groups[group]);
                self.grid.pitch_mm[0] * cells / (n as f64).min(cells)
            }
        }
    }

    fn apart_mm(&self, here: &[Site], there: &[Site]) -> f64 {
        let middle = |sites: &[Site]| {
            let [mut x, mut y] = [0.0; 2];
            for &s in sites {
                let [sx, sy] = self.grid.middle_mm(s);
                (x, y) = (x + sx, y + sy);
            }
            [x / count(sites), y / count(sites)]
        };
        let ([ax, ay], [bx, by]) = (middle(here), middle(there));
        (ax - bx).hypot(ay - by)
    }

    /// What a group costs that falls apart.
    pub fn parts_mm(&self, group: usize) -> f64 {
        PART_MM * (self.parts(group) as f64 - 1.0)
    }

    /// What the way from the first and the last group to the edges at which they are wanted costs.
    pub fn ends_mm(&self, wanted: Wanted) -> f64 {
        let last = self.groups.len() - 1;
        let way = |group: usize, edge: Option<Edge>| {
            edge.map_or(0.0, |edge| {
                self.groups[group].iter().map(|&s| to_edge_mm(self.grid, s, edge)).fold(f64::MAX, f64::min)
            })
        };
        ENDS_SHARE * (way(0, wanted.minus_at) + way(last, wanted.plus_at))
    }

    /// The whole cost, in millimetres of strip: less is better.
    pub fn cost_mm(&self, wanted: Wanted) -> f64 {
        let groups = 0..self.groups.len();
        groups.map(|g| self.parts_mm(g) + self.link_mm(g)).sum::<f64>() + self.ends_mm(wanted)
    }

    /// Puts what is on one site on the other, and the other way round.
    pub fn exchange(&mut self, a: Site, b: Site) {
        let (ia, ib) = (self.grid.index(a), self.grid.index(b));
        for (from, to, group) in [(a, b, self.group_of[ia]), (b, a, self.group_of[ib])] {
            if let Some(g) = group
                && let Some(seat) = self.groups[usize::from(g)].iter_mut().find(|s| **s == from)
            {
                *seat = to;
            }
        }
        self.group_of.swap(ia, ib);
    }
}

fn count(sites: &[Site]) -> f64 {
    sites.len() as f64
}

/// Way from a site to an edge of the lattice's face.
pub fn to_edge_mm(grid: &Grid, site: Site, edge: Edge) -> f64 {
    let [x, y] = grid.middle_mm(site);
    let size = grid.size_mm();
    let [width_mm, depth_mm] = [size[grid.axes[0].index()], size[grid.axes[1].index()]];
    match edge {
        Edge::Left => x - grid.cell_mm[0] / 2.0,
        Edge::Right => width_mm - x - grid.cell_mm[0] / 2.0,
        Edge::Upper => y - grid.cell_mm[1] / 2.0,
        Edge::Lower => depth_mm - y - grid.cell_mm[1] / 2.0,
    }
}
