//! Holes in the walls: whether the part goes in, and what lies behind the drill.

use serde::Serialize;
use utoipa::ToSchema;

use super::faults::label;
use super::grid::Site;
use super::room::{Placed, space_mm};
use crate::base::limit::{above, below};
use crate::plan::{Axis, Compartment, Layout, Opening, Wall};

/// A cell or something in the way, met by going straight in from a hole.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Behind {
    /// Label of the cell, or name of what is in the way.
    pub what: String,
    /// Depth at which it begins, from the inner face of the wall.
    pub depth_mm: f64,
}

/// Directions along a wall: the first is measured as `along_mm`, the second as `up_mm`.
pub fn along_wall(wall: Wall) -> [Axis; 2] {
    match wall.axis() {
        Axis::X => [Axis::Y, Axis::Z],
        Axis::Y => [Axis::X, Axis::Z],
        Axis::Z => [Axis::X, Axis::Y],
    }
}

/// What lies behind a hole, the nearest first; nothing where the hole's place is not known.
///
/// The part's body counts where it is wider than the hole. Round cells count as the boxes they fill, with the skin
/// of the brick: a drill goes through foam.
pub fn behind(opening: &Opening, place: &Compartment, brick: Option<(&Placed<'_>, &Layout, usize)>) -> Vec<Behind> {
    let (Some(wall), Some(along_mm), Some(up_mm)) = (opening.wall, opening.along_mm, opening.up_mm) else {
        return vec![];
    };
    let room_mm = space_mm(&place.space);
    let radius_mm = opening.hole_mm.max(opening.body_mm.unwrap_or(0.0)) / 2.0;
    let [a, b] = along_wall(wall).map(Axis::index);
    let depth_of = |low_mm: &[f64; 3], high_mm: &[f64; 3]| -> Option<f64> {
        let off = |i: usize, at_mm: f64| (low_mm[i] - at_mm).max(at_mm - high_mm[i]).max(0.0);
        let across = wall.axis().index();
        let depth_mm = if wall.is_high() { room_mm[across] - high_mm[across] } else { low_mm[across] };
        below(off(a, along_mm).hypot(off(b, up_mm)), radius_mm).then_some(depth_mm)
    };
    let mut found: Vec<Behind> = vec![];
    if let Some((placed, layout, parallel)) = brick {
        for (k, seat) in layout.cells.iter().enumerate() {
            let cell = placed.cell_mm(Site::from(seat));
            if let Some(depth_mm) = depth_of(&cell.low_mm, &cell.high_mm) {
                let what = format!("cell {}", label(k / parallel, k % parallel));
                found.push(Behind { what, depth_mm: depth_mm - placed.around.skin_mm() });
            }
        }
    }
    for o in place.in_the_way() {
        let other = super::room::Cuboid::from(o);
        if let Some(depth_mm) = depth_of(&other.low_mm, &other.high_mm) {
            found.push(Behind { what: o.name.clone(), depth_mm });
        }
    }
    found.sort_by(|a, b| a.depth_mm.total_cmp(&b.depth_mm));
    found
}

/// Depth that is free behind a hole: what was measured, what lies behind it, or the far wall, whichever is least.
pub fn free_mm(opening: &Opening, place: &Compartment, behind: &[Behind]) -> Option<f64> {
    let far_mm = opening.wall.map(|wall| space_mm(&place.space)[wall.axis().index()]);
    [opening.behind_mm, behind.first().map(|b| b.depth_mm), far_mm].into_iter().flatten().reduce(f64::min)
}

/// Depth by which a part is too deep for what is free behind its hole, if it is.
pub fn too_deep_mm(opening: &Opening, free_mm: Option<f64>) -> Option<f64> {
    let (part_mm, free_mm) = (opening.part_mm?, free_mm?);
    above(part_mm, free_mm).then_some(part_mm - free_mm)
}

/// Thickness by which wall and pad are more than the part's thread takes, if they are.
pub fn too_thick_mm(opening: &Opening) -> Option<f64> {
    let thick_mm = opening.wall_mm? + opening.pad_mm.unwrap_or(0.0);
    let thread_mm = opening.thread_mm?;
    above(thick_mm, thread_mm).then_some(thick_mm - thread_mm)
}
