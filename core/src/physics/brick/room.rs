//! Whether a brick goes into its compartment: with strips, wrap, padding, wires and board, round what is in the way.

use serde::Serialize;
use utoipa::ToSchema;

use super::grid::{Form, Grid, Site};
use crate::base::limit::below;
use crate::plan::{Axis, BoardSpace, Clearances, Compartment, Obstruction, Space, Wall};

/// A box in the compartment.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Cuboid {
    /// Low corner along x, y and z.
    pub low_mm: [f64; 3],
    /// High corner.
    pub high_mm: [f64; 3],
}

impl Cuboid {
    /// Whether the insides of both share anything.
    pub fn meets(&self, other: &Cuboid) -> bool {
        (0..3).all(|i| below(self.low_mm[i], other.high_mm[i]) && below(other.low_mm[i], self.high_mm[i]))
    }
}

impl From<&Obstruction> for Cuboid {
    fn from(o: &Obstruction) -> Cuboid {
        let low_mm = [o.x_mm, o.y_mm, o.z_mm];
        Cuboid { low_mm, high_mm: [o.x_mm + o.length_mm, o.y_mm + o.width_mm, o.z_mm + o.depth_mm] }
    }
}

/// Inner size of a compartment along x, y and z.
pub fn space_mm(space: &Space) -> [f64; 3] {
    match *space {
        Space::Box { length_mm, width_mm, depth_mm } => [length_mm, width_mm, depth_mm],
        Space::Cylinder { diameter_mm, length_mm } => [length_mm, diameter_mm, diameter_mm],
    }
}

/// What lies round the cells of a brick.
#[derive(Debug, Clone, Copy)]
pub struct Around<'a> {
    /// Room for each thing.
    pub clear: &'a Clearances,
    /// Side of the board, if it goes in.
    pub board_on: Option<Wall>,
    /// Side of the wires.
    pub wires_on: Wall,
}

impl Around<'_> {
    /// Wrap, padding and shell on one side.
    pub fn skin_mm(&self) -> f64 {
        skin_mm(self.clear)
    }

    /// The board and the side it lies on.
    fn board(&self) -> Option<(&BoardSpace, Wall)> {
        self.clear.board.as_ref().zip(self.board_on)
    }

    /// What lies between the cells and the outside on one side.
    pub fn outside_mm(&self, wall: Wall) -> f64 {
        let wires_mm = if self.wires_on == wall { self.clear.wires_mm } else { 0.0 };
        let board_mm = self.board().filter(|(_, on)| *on == wall).map_or(0.0, |(b, _)| b.thickness_mm);
        self.skin_mm() + wires_mm + board_mm
    }

    /// Size of the whole brick along x, y and z, where its cells with their strips take `cells_mm`.
    ///
    /// A board larger than the side it lies on makes the brick that large.
    pub fn size_mm(&self, cells_mm: [f64; 3]) -> [f64; 3] {
        let mut size_mm = cells_mm;
        if let Some((board, on)) = self.board() {
            let sides = sides(on.axis());
            let [a, b] = board_along(board, [cells_mm[sides[0].index()], cells_mm[sides[1].index()]]);
            for (axis, length_mm) in sides.into_iter().zip([a, b]) {
                size_mm[axis.index()] = size_mm[axis.index()].max(length_mm);
            }
        }
        for wall in Wall::ALL {
            size_mm[wall.axis().index()] += self.outside_mm(wall);
        }
        size_mm
    }

    /// The board in the compartment, lying against the cells at `cells` in the corner given by `far`.
    fn board_at(&self, cells: &Cuboid, far: [bool; 2]) -> Option<Cuboid> {
        let (board, on) = self.board()?;
        let (mut low_mm, mut high_mm) = (cells.low_mm, cells.high_mm);
        let across = on.axis().index();
        if on.is_high() {
            low_mm[across] = cells.high_mm[across];
            high_mm[across] = low_mm[across] + board.thickness_mm;
        } else {
            high_mm[across] = cells.low_mm[across];
            low_mm[across] = high_mm[across] - board.thickness_mm;
        }
        let sides = sides(on.axis());
        let room = sides.map(|a| cells.high_mm[a.index()] - cells.low_mm[a.index()]);
        for ((axis, length_mm), far) in sides.into_iter().zip(board_along(board, room)).zip(far) {
            let i = axis.index();
            if far {
                low_mm[i] = high_mm[i] - length_mm;
            } else {
                high_mm[i] = low_mm[i] + length_mm;
            }
        }
        Some(Cuboid { low_mm, high_mm })
    }
}

/// Wrap, padding and shell on one side.
pub fn skin_mm(clear: &Clearances) -> f64 {
    clear.wrap_mm + clear.padding_mm + clear.shell_mm
}

/// The two directions along a side.
fn sides(across: Axis) -> [Axis; 2] {
    match across {
        Axis::X => [Axis::Y, Axis::Z],
        Axis::Y => [Axis::X, Axis::Z],
        Axis::Z => [Axis::X, Axis::Y],
    }
}

/// A board laid the way it sticks out least.
fn board_along(board: &BoardSpace, room_mm: [f64; 2]) -> [f64; 2] {
    let over = |[a, b]: [f64; 2]| (a - room_mm[0]).max(0.0) + (b - room_mm[1]).max(0.0);
    let (long, turned) = ([board.length_mm, board.width_mm], [board.width_mm, board.length_mm]);
    if over(turned) < over(long) { turned } else { long }
}

/// A lattice somewhere in a compartment.
pub struct Placed<'a> {
    /// The lattice.
    pub grid: &'a Grid,
    /// What lies round it.
    pub around: Around<'a>,
    /// Where it begins.
    pub at_mm: [f64; 3],
}

impl Placed<'_> {
    /// The box a cell takes, without skin; a flat cell with its room for terminals, a round one with its strips.
    pub fn cell_mm(&self, site: Site) -> Cuboid {
        let middle_mm = self.grid.middle_in_mm(site, self.at_mm);
        let (mut low_mm, mut high_mm) = (middle_mm, middle_mm);
        for (k, axis) in self.grid.axes.into_iter().enumerate() {
            let i = axis.index();
            let [below_mm, above_mm] = if k == 2 { self.grid.ends_mm } else { [0.0; 2] };
            low_mm[i] -= self.grid.cell_mm[k] / 2.0 + below_mm;
            high_mm[i] += self.grid.cell_mm[k] / 2.0 + above_mm;
        }
        Cuboid { low_mm, high_mm }
    }

    /// Whether a cell with its skin runs into a box: a round one is judged as round.
    pub fn cell_meets(&self, site: Site, other: &Cuboid) -> bool {
        let cell = self.cell_mm(site);
        let skin_mm = self.around.skin_mm();
        let grown = Cuboid { low_mm: cell.low_mm.map(|v| v - skin_mm), high_mm: cell.high_mm.map(|v| v + skin_mm) };
        if !grown.meets(other) {
            return false;
        }
        if self.grid.form == Form::Flat {
            return true;
        }
        let middle_mm = self.grid.middle_in_mm(site, self.at_mm);
        let off_mm = |axis: Axis| {
            let i = axis.index();
            (other.low_mm[i] - middle_mm[i]).max(middle_mm[i] - other.high_mm[i]).max(0.0)
        };
        below(off_mm(self.grid.axes[0]).hypot(off_mm(self.grid.axes[1])), self.grid.cell_mm[0] / 2.0 + skin_mm)
    }

    /// How far beyond the wall of a tube a cell with its skin reaches; negative while it stays inside.
    pub fn beyond_tube_mm(&self, site: Site, diameter_mm: f64) -> f64 {
        let middle_mm = self.grid.middle_in_mm(site, self.at_mm);
        let (y, z) = (middle_mm[1] - diameter_mm / 2.0, middle_mm[2] - diameter_mm / 2.0);
        let reach_mm = if self.grid.form == Form::Round && self.grid.axes[2] == Axis::X {
            y.hypot(z) + self.grid.cell_mm[0] / 2.0
        } else {
            let cell = self.cell_mm(site);
            let half = |i: usize| (cell.high_mm[i] - cell.low_mm[i]) / 2.0;
            (y.abs() + half(1)).hypot(z.abs() + half(2))
        };
        reach_mm + self.around.skin_mm() - diameter_mm / 2.0
    }

    /// How far a set of cells, with everything round it, keeps from the walls, and what it runs into.
    pub fn fit(&self, sites: &[Site], place: &Compartment) -> Fit {
        let (low_mm, high_mm) = self.grid.taken_mm(sites.iter().copied());
        let cells = Cuboid {
            low_mm: std::array::from_fn(|i| self.at_mm[i] + low_mm[i]),
            high_mm: std::array::from_fn(|i| self.at_mm[i] + high_mm[i]),
        };
        self.fit_of(&cells, sites, place)
    }

    /// The same where the box that the cells take is known; the cells themselves are asked for only in a tube, or where
    /// something is in the way.
    pub fn fit_of(&self, cells: &Cuboid, sites: &[Site], place: &Compartment) -> Fit {
        let cells_mm: [f64; 3] = std::array::from_fn(|i| cells.high_mm[i] - cells.low_mm[i]);
        let size_mm = self.around.size_mm(cells_mm);
        let space_mm = space_mm(&place.space);
        let mut low_mm: [f64; 3] = [0.0; 3];
        let mut high_mm: [f64; 3] = [0.0; 3];
        for wall in Wall::ALL {
            let i = wall.axis().index();
            if wall.is_high() {
                high_mm[i] = space_mm[i] - cells.high_mm[i] - self.around.outside_mm(wall);
            } else {
                low_mm[i] = cells.low_mm[i] - self.around.outside_mm(wall);
            }
        }
        if let Space::Cylinder { diameter_mm, .. } = place.space {
            let beyond_mm = sites.iter().map(|&s| self.beyond_tube_mm(s, diameter_mm)).fold(f64::MIN, f64::max);
            for i in [1, 2] {
                (low_mm[i], high_mm[i]) = (-beyond_mm, -beyond_mm);
            }
        } else {
            // A board that sticks out takes room from what is left on both sides.
            for i in 0..3 {
                let short_mm = size_mm[i] + low_mm[i] + high_mm[i] - space_mm[i];
                low_mm[i] -= short_mm / 2.0;
                high_mm[i] -= short_mm / 2.0;
            }
        }
        // A board finds its corner among all of them together: two may each leave it one, and both none.
        let others: Vec<Cuboid> = place.in_the_way().map(Cuboid::from).collect();
        let no_corner = self.board_is_blocked(cells, &others);
        let in_the_way = place
            .in_the_way()
            .zip(&others)
            .filter(|(_, other)| {
                sites.iter().any(|&s| self.cell_meets(s, other)) || no_corner && self.board_meets(cells, other)
            })
            .map(|(o, _)| o.name.clone())
            .collect();
        Fit { size_mm, cells: *cells, low_mm, high_mm, in_the_way }
    }

    /// Whether the board finds no corner of its side that is free of these boxes.
    fn board_is_blocked(&self, cells: &Cuboid, others: &[Cuboid]) -> bool {
        self.around.board().is_some() && self.boards(cells).all(|board| others.iter().any(|other| board.meets(other)))
    }

    /// Whether a box stands in a corner that the board could take.
    fn board_meets(&self, cells: &Cuboid, other: &Cuboid) -> bool {
        self.boards(cells).any(|board| board.meets(other))
    }

    /// The board in each corner of its side; nothing where it does not go in.
    fn boards<'c>(&'c self, cells: &'c Cuboid) -> impl Iterator<Item = Cuboid> + 'c {
        let corners = [[false, false], [false, true], [true, false], [true, true]];
        corners.into_iter().filter_map(|far| self.around.board_at(cells, far))
    }
}

/// How a brick lies in its compartment.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Fit {
    /// Size of the brick with everything round it, along x, y and z.
    pub size_mm: [f64; 3],
    /// Its cells with their strips.
    pub cells: Cuboid,
    /// Room left at the low walls; less than none is too much brick.
    pub low_mm: [f64; 3],
    /// Room left at the high walls.
    pub high_mm: [f64; 3],
    /// What it runs into.
    pub in_the_way: Vec<String>,
}

impl Fit {
    /// Room left along each direction, both walls together.
    pub fn spare_mm(&self) -> [f64; 3] {
        std::array::from_fn(|i| self.low_mm[i] + self.high_mm[i])
    }

    /// Whether it goes in.
    pub fn fits(&self) -> bool {
        // A nanometre is rounding.
        let inside = |mm: &[f64; 3]| mm.iter().all(|&v| v > -1e-6);
        self.in_the_way.is_empty() && inside(&self.low_mm) && inside(&self.high_mm)
    }

    /// Least room on any side; what is missing as a negative length.
    pub fn tightest_mm(&self) -> f64 {
        self.low_mm.iter().chain(&self.high_mm).copied().fold(f64::MAX, f64::min)
    }
}
