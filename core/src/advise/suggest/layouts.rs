//! Layouts to choose from: every arrangement of the cells in the compartment, the patterns of the chosen one, and ways
//! out when none fits.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::quantity::{Unit, show};
use crate::physics::brick::{Arrangement, Laid, Merit, Pattern, Task, arrangements};
use crate::plan::{Axis, CellSize, Change, Clearances, Compartment, Lattice, Layout, Plan, Space};

/// Where a plan keeps its layout.
pub const LAYOUT_AT: &str = "/packs/0/brick/layout";

/// Common round cells, the largest first: code, diameter, length, largest bare size. Common practice, no source.
const COMMON_SIZES: [(&str, f64, f64); 7] = [
    ("32700", 32.3, 70.6),
    ("26650", 26.3, 65.6),
    ("21700", 21.4, 70.6),
    ("18650", 18.6, 65.3),
    ("16340", 16.6, 34.5),
    ("14500", 14.3, 50.5),
    ("10440", 10.5, 44.5),
];

/// An arrangement to choose.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LayoutOffer {
    /// What it is, in a few words.
    pub name: String,
    /// How it fits and joins.
    pub arrangement: Arrangement,
    /// The changes that choose it.
    pub changes: Vec<Change>,
    /// Whether the plan has it.
    pub chosen: bool,
}

/// A way to make the brick fit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WayOut {
    /// What is done.
    pub name: String,
    /// The changes to the plan; none where the maker's own work is meant.
    pub changes: Vec<Change>,
}

/// Every layout there is to choose from.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct LayoutOffers {
    /// What must be known first, in words.
    pub missing: Option<String>,
    /// Those that fit first, then the nearest misses.
    pub options: Vec<LayoutOffer>,
    /// Ways out when none fits.
    pub ways_out: Vec<WayOut>,
}

/// A pattern to choose on the lattice that is there.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PatternOffer {
    /// The pattern.
    pub pattern: Pattern,
    /// What its strips come to.
    pub merit: Merit,
    /// The changes that choose it.
    pub changes: Vec<Change>,
    /// Whether the plan has it.
    pub chosen: bool,
}

/// Arrangements for a plan, with ways out when none fits; else what must be known first.
pub fn offers(plan: &Plan) -> Result<LayoutOffers, &'static str> {
    let task = Task::of(plan)?;
    let now = plan.main_pack().and_then(|p| p.brick.layout.as_ref());
    let options: Vec<LayoutOffer> = arrangements(&task).into_iter().map(|a| offer(a, now)).collect();
    let ways_out = if options.iter().any(|o| o.arrangement.fits) { vec![] } else { ways_out(plan) };
    Ok(LayoutOffers { missing: None, options, ways_out })
}

fn offer(arrangement: Arrangement, now: Option<&Layout>) -> LayoutOffer {
    let lattice = |l: &Layout| (l.lattice, l.axis, l.columns_along, l.columns, l.rows, l.layers);
    let chosen = now.is_some_and(|now| lattice(now) == lattice(&arrangement.layout));
    let changes =
        if arrangement.layout.cells.is_empty() { vec![] } else { vec![Change::put(LAYOUT_AT, &arrangement.layout)] };
    LayoutOffer { name: name(&arrangement.layout), chosen, changes, arrangement }
}

/// "2 layers of 4 × 2, staggered, upright".
fn name(layout: &Layout) -> String {
    let layers = if layout.layers > 1 { format!("{} layers of ", layout.layers) } else { String::new() };
    let lattice = match layout.lattice {
        Lattice::Square => "",
        Lattice::Staggered => ", staggered",
        Lattice::StaggeredShort => ", staggered, short rows",
    };
    let axis = match layout.axis {
        Axis::X => "cells along the length",
        Axis::Y => "cells across",
        Axis::Z => "upright",
    };
    format!("{layers}{} × {}{lattice}, {axis}", layout.columns, layout.rows)
}

/// Patterns on the lattice that the plan has, the best first.
pub fn pattern_offers(plan: &Plan) -> Vec<PatternOffer> {
    let Some(laid) = Laid::of(plan) else { return vec![] };
    let offer = |(pattern, layout): (Pattern, Layout)| {
        let merit = laid.with(&layout).merit();
        let seats = |l: &Layout| l.cells.iter().map(|s| (s.column, s.row, s.layer)).collect::<Vec<_>>();
        let chosen = seats(&layout) == seats(laid.layout);
        PatternOffer { pattern, merit, changes: vec![Change::put(format!("{LAYOUT_AT}/cells"), &layout.cells)], chosen }
    };
    laid.patterns().into_iter().map(offer).collect()
}

/// What would make the brick fit, each tried: less foam, another place, something cut away, fewer or smaller cells.
pub fn ways_out(plan: &Plan) -> Vec<WayOut> {
    let Ok(task) = Task::of(plan) else { return vec![] };
    let clear = task.clear;
    let fitting = |task: &Task<'_>| arrangements(task).into_iter().find(|a| a.fits);
    let with_layout = |mut changes: Vec<Change>, found: &Arrangement| {
        changes.push(Change::put(LAYOUT_AT, &found.layout));
        changes
    };
    let mut found: Vec<WayOut> = vec![];
    let thinner = [
        ("No foam round it", Clearances { padding_mm: 0.0, ..clear.clone() }),
        (
            "No foam, cells against one thin sheet",
            Clearances { padding_mm: 0.0, gap_mm: clear.gap_mm.min(0.2), ..clear.clone() },
        ),
        ("The board somewhere else", Clearances { board: None, board_elsewhere: true, ..clear.clone() }),
    ];
    for (name, thinner) in thinner.into_iter().filter(|(_, t)| t != clear) {
        if let Some(a) = fitting(&Task { clear: &thinner, ..task.clone() }) {
            let changes = with_layout(vec![Change::put("/packs/0/brick/clearances", &thinner)], &a);
            found.push(WayOut { name: name.to_owned(), changes });
        }
    }
    for place in plan.device.compartments.iter().filter(|p| p.id != task.place.id) {
        if let Some(a) = fitting(&Task { place, ..task.clone() }) {
            let changes = with_layout(vec![Change::put("/packs/0/brick/compartment", &place.id)], &a);
            found.push(WayOut { name: format!("Into “{}”", place.name), changes });
        }
    }
    let number = plan.device.compartments.iter().position(|p| p.id == task.place.id).unwrap_or(0);
    for (k, obstruction) in task.place.obstructions.iter().enumerate().filter(|(_, o)| !o.cut) {
        let mut place: Compartment = task.place.clone();
        place.obstructions[k].cut = true;
        if let Some(a) = fitting(&Task { place: &place, ..task.clone() }) {
            let at = format!("/device/compartments/{number}/obstructions/{k}/cut");
            let changes = with_layout(vec![Change::put(at, true)], &a);
            found.push(WayOut { name: format!("Cut “{}” away", obstruction.name), changes });
        }
    }
    for parallel in (1..task.parallel).rev() {
        if let Some(a) = fitting(&Task { parallel, ..task.clone() }) {
            let changes = with_layout(vec![Change::put("/packs/0/parallel", parallel)], &a);
            found.push(WayOut { name: format!("{parallel} in parallel instead of {}", task.parallel), changes });
            break;
        }
    }
    found.extend(larger_place(&task));
    found.extend(smaller_cell(&task));
    found
}

/// By how much the compartment would have to grow along one direction.
fn larger_place(task: &Task<'_>) -> Option<WayOut> {
    let Space::Box { length_mm, width_mm, depth_mm } = task.place.space else { return None };
    let mut best: Option<(f64, &str)> = None;
    for a in arrangements(task) {
        let missing: Vec<(usize, f64)> =
            a.spare_mm.iter().enumerate().filter(|(_, s)| **s < 0.0).map(|(i, s)| (i, -s)).collect();
        if let [(i, missing_mm)] = missing[..]
            && a.fit.in_the_way.is_empty()
            && best.is_none_or(|(mm, _)| missing_mm < mm)
        {
            best = Some((missing_mm, ["length", "width", "depth"][i]));
        }
    }
    let (missing_mm, along) = best?;
    let now_mm = match along {
        "length" => length_mm,
        "width" => width_mm,
        _ => depth_mm,
    };
    let (missing, wanted) = (show(missing_mm, Unit::Mm), show(now_mm + missing_mm, Unit::Mm));
    Some(WayOut { name: format!("{missing} more along the {along}: {wanted}"), changes: vec![] })
}

/// The largest common cell that would fit with the same counts.
fn smaller_cell(task: &Task<'_>) -> Option<WayOut> {
    let CellSize::Cylindrical { diameter_mm, length_mm } = task.size else { return None };
    let smaller = COMMON_SIZES.iter().filter(|(_, d, l)| d * d * l < 0.95 * diameter_mm * diameter_mm * length_mm);
    for &(code, diameter_mm, length_mm) in smaller {
        let size = CellSize::Cylindrical { diameter_mm, length_mm };
        if arrangements(&Task { size, ..task.clone() }).iter().any(|a| a.fits) {
            return Some(WayOut { name: format!("A smaller cell: {code} would fit"), changes: vec![] });
        }
    }
    None
}
