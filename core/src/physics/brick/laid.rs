//! A plan's brick as it is laid: its lattice, its compartment, and every question about it in one place.

use std::cell::OnceCell;

use super::arrange::{Task, seats};
use super::edit::{Edit, Refused, edit};
use super::faults::{Fault, faults, near};
use super::grid::{Grid, Site};
use super::joints::{Seating, Wanted};
use super::metal::{Merit, Piece, groups_of, merit, pieces};
use super::openings::{Behind, behind, free_mm};
use super::pattern::{Pattern, best_of_each, patterns};
use super::room::{Around, Cuboid, Fit, Placed};
use super::search::Search;
use crate::base::limit::above;
use crate::base::progress::Progress;
use crate::plan::{Brick, Compartment, Layout, Opening, Pack, Plan, Seat, Space};

/// The brick of a plan's main pack.
#[derive(Debug)]
pub struct Laid<'a> {
    /// The pack.
    pub pack: &'a Pack,
    /// Where each cell sits.
    pub layout: &'a Layout,
    /// Its lattice.
    pub grid: Grid,
    /// The compartment it goes into, if the device has one.
    pub place: Option<&'a Compartment>,
    /// Groups in series.
    pub series: usize,
    /// Cells in each.
    pub parallel: usize,
    strips: OnceCell<Vec<Piece>>,
}

impl<'a> Laid<'a> {
    /// The brick of a plan. `None` while cell, counts or layout are not chosen.
    pub fn of(plan: &'a Plan) -> Option<Laid<'a>> {
        let pack = plan.main_pack()?;
        let layout = pack.brick.layout.as_ref()?;
        let grid = Grid::of(layout, &pack.cell()?.size, &pack.brick.clearances);
        let (series, parallel) = (pack.series? as usize, pack.parallel? as usize);
        let place = compartment(plan, &pack.brick);
        Some(Laid { pack, layout, grid, place, series, parallel, strips: OnceCell::new() })
    }

    /// Whether it seats as many cells as the pack has.
    pub fn suits(&self) -> bool {
        self.layout.cells.len() == self.series * self.parallel
    }

    fn around(&self) -> Around<'a> {
        let brick = &self.pack.brick;
        Around { clear: &brick.clearances, board_on: self.layout.board_on, wires_on: self.layout.wires_on }
    }

    /// The lattice where it lies.
    pub fn placed(&self) -> Placed<'_> {
        Placed { grid: &self.grid, around: self.around(), at_mm: self.layout.at_mm }
    }

    /// How it lies in its compartment.
    pub fn fit(&self) -> Option<Fit> {
        let sites: Vec<Site> = self.layout.cells.iter().map(Site::from).collect();
        if sites.is_empty() {
            return None;
        }
        Some(self.placed().fit(&sites, self.place?))
    }

    /// Whether a cell can sit on a site: inside the walls, clear of what stands there.
    pub fn is_free(&self, site: Site) -> bool {
        let Some(place) = self.place else { return true };
        let placed = self.placed();
        let blocked = place.in_the_way().any(|o| placed.cell_meets(site, &Cuboid::from(o)));
        let outside = match place.space {
            Space::Box { .. } => false,
            Space::Cylinder { diameter_mm, .. } => above(placed.beyond_tube_mm(site, diameter_mm), 1e-6),
        };
        self.grid.has(site) && !blocked && !outside
    }

    /// Free sites, layer by layer; those that cells sit on among them.
    pub fn free(&self) -> Vec<Vec<Site>> {
        let layers = 0..self.grid.counts[2];
        layers.map(|l| self.grid.sites().filter(|&s| s.layer == l && self.is_free(s)).collect()).collect()
    }

    /// What is wrong with it, whatever the compartment.
    pub fn faults(&self) -> Vec<Fault> {
        let mut found = faults(self.layout, &self.grid, self.series, self.parallel);
        if let Some(strip) = self.pack.strip.part().filter(|_| self.suits()) {
            found.extend(near(self.pieces(), &self.grid, strip.width_mm));
        }
        found
    }

    /// The same pack on the same lattice with another layout.
    pub fn with<'b>(&self, layout: &'b Layout) -> Laid<'b>
    where
        'a: 'b,
    {
        Laid { layout, grid: self.grid.clone(), strips: OnceCell::new(), ..*self }
    }

    /// Its strips, laid once however often they are asked for.
    pub fn pieces(&self) -> &[Piece] {
        self.strips.get_or_init(|| pieces(self.layout, &self.grid, self.parallel))
    }

    /// The cell on each site, by the site's number.
    pub fn cells_by_place(&self) -> Vec<Option<usize>> {
        let mut found = vec![None; self.grid.places()];
        for (cell, seat) in self.layout.cells.iter().enumerate() {
            found[self.grid.index(Site::from(seat))] = Some(cell);
        }
        found
    }

    /// Width of its strips; of one that is not chosen yet, as they are usually drawn.
    pub fn strip_width_mm(&self) -> f64 {
        const USUAL_SHARE: f64 = 0.42;
        self.pack.strip.part().map_or(self.grid.pitch_mm[0] * USUAL_SHARE, |s| s.width_mm)
    }

    /// What its strips come to.
    pub fn merit(&self) -> Merit {
        merit(self.pieces(), &self.grid, self.series)
    }

    /// Sites on which nothing moves.
    fn locked(&self) -> Vec<Site> {
        self.layout.cells.iter().filter(|s| s.locked).map(Site::from).collect()
    }

    /// The layout after one edit by hand.
    pub fn edit(&self, change: &Edit) -> Result<Layout, Refused> {
        edit(self.layout, &self.grid, self.parallel, change, |site| self.is_free(site))
    }

    /// The layout with every usual pattern on its lattice, the best first; those that fall apart are left out.
    pub fn patterns(&self) -> Vec<(Pattern, Layout)> {
        let found = patterns(&self.grid, &self.free(), self.series, self.parallel, self.wanted());
        let whole = |s: &Seating<'_>| (0..self.series).all(|g| s.parts(g) == 1);
        let best = best_of_each(found, self.wanted()).into_iter().filter(|(_, s)| whole(s));
        best.map(|(pattern, s)| (pattern, Layout { cells: seats(&s), ..self.layout.clone() })).collect()
    }

    /// A better layout on the same lattice, found by trying; locked cells stay. `None` if whoever watches ended it.
    pub fn searched(&self, moves: u64, seed: u64, progress: &dyn Progress) -> Option<Layout> {
        let (free, locked) = (self.free(), self.locked());
        let search = Search { free: &free, locked: &locked, wanted: self.wanted(), moves, seed };
        let as_it_is = || Seating::new(&self.grid, groups_of(self.layout, self.parallel));
        let start = if locked.is_empty() {
            let found =
                best_of_each(patterns(&self.grid, &free, self.series, self.parallel, self.wanted()), self.wanted());
            found.into_iter().next().map_or_else(as_it_is, |(_, s)| s)
        } else {
            as_it_is()
        };
        let found = search.from(start, progress)?;
        let mut cells = seats(&found);
        for seat in &mut cells {
            seat.locked = locked.contains(&Site::from(&*seat));
        }
        // Every other group is turned over; which of the two ways follows the cells that stay.
        let turned = |seat: &Seat| {
            self.layout.cells.iter().any(|s| s.locked && Site::from(s) == Site::from(seat) && s.plus_up != seat.plus_up)
        };
        if cells.iter().any(turned) {
            cells.iter_mut().for_each(|s| s.plus_up = !s.plus_up);
        }
        Some(Layout { cells, ..self.layout.clone() })
    }

    /// Edges at which its ends are wanted.
    pub fn wanted(&self) -> Wanted {
        wanted(&self.pack.brick)
    }
}

/// What lies behind a hole of a compartment, and the depth that is free there; the brick counts where it lies in that one.
pub fn look_behind(laid: Option<&Laid<'_>>, place: &Compartment, opening: &Opening) -> (Vec<Behind>, Option<f64>) {
    let here = laid.filter(|l| l.suits() && l.place.is_some_and(|p| p.id == place.id));
    let placed = here.map(Laid::placed);
    let brick = placed.as_ref().zip(here).map(|(placed, l)| (placed, l.layout, l.parallel));
    let met = behind(opening, place, brick);
    let free_mm = free_mm(opening, place, &met);
    (met, free_mm)
}

/// Edges at which a brick's ends are wanted.
fn wanted(brick: &Brick) -> Wanted {
    Wanted { minus_at: brick.minus_at, plus_at: brick.plus_at }
}

/// The compartment a brick goes into: the one it names, while that is there; else the first.
fn compartment<'a>(plan: &'a Plan, brick: &Brick) -> Option<&'a Compartment> {
    let all = &plan.device.compartments;
    let named = brick.compartment.as_ref().and_then(|id| all.iter().find(|c| c.id == *id));
    named.or(all.first())
}

impl<'a> Task<'a> {
    /// What is to be laid out in a plan; else what must be known first, in words.
    pub fn of(plan: &'a Plan) -> Result<Task<'a>, &'static str> {
        let pack = plan.main_pack().ok_or("Choose a pack first.")?;
        if pack.ready.part().is_some() {
            return Err("The pack is bought ready: there is nothing to lay out.");
        }
        let cell = pack.cell().ok_or("Choose the cell first: its size decides what fits.")?;
        let (Some(series), Some(parallel)) = (pack.series, pack.parallel) else {
            return Err("Choose the series and parallel counts first.");
        };
        let place = compartment(plan, &pack.brick).ok_or("Measure the place for the pack first.")?;
        let clear = &pack.brick.clearances;
        Ok(Task { size: cell.size.clone(), clear, place, series, parallel, wanted: wanted(&pack.brick) })
    }
}
