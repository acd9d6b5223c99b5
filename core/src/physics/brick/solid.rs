//! The brick as bodies in space, for a view that can be turned: cells, strips, the box it must go into.

use serde::Serialize;
use utoipa::ToSchema;

use super::drawing::ramp;
use super::faults::label;
use super::grid::{Form, Site};
use super::laid::Laid;
use super::metal::{End, terminal_mm};
use super::room::space_mm;

/// A cell in space.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CellBody {
    /// Group and letter.
    pub label: String,
    /// Its layer, from 0.
    pub layer: u32,
    /// Its middle along x, y and z of the compartment.
    pub middle_mm: [f64; 3],
    /// Its size along x, y and z.
    pub size_mm: [f64; 3],
    /// The direction from its bottom to its top: 0 is x.
    pub axis: usize,
    /// Whether it is round about that direction.
    pub round: bool,
    /// Colour of its end at the top.
    pub top_fill: String,
    /// Colour of its end at the bottom.
    pub bottom_fill: String,
    /// Whether plus is at the top.
    pub plus_up: bool,
}

/// A strip in space.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StripBody {
    /// Its node.
    pub node: usize,
    /// Layer on which it lies.
    pub layer: u32,
    /// Middle of its first weld.
    pub from_mm: [f64; 3],
    /// Middle of its last weld.
    pub to_mm: [f64; 3],
    /// Direction that sticks out of the face: 0 is x.
    pub axis: usize,
    /// Its width.
    pub width_mm: f64,
}

/// Everything in space.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Solid {
    /// Cells.
    pub cells: Vec<CellBody>,
    /// Strips.
    pub strips: Vec<StripBody>,
    /// Inner size of the compartment, if there is one; it begins at 0.
    pub place_mm: Option<[f64; 3]>,
    /// The direction along which layers lie on one another: 0 is x.
    pub layers_along: usize,
}

/// The bodies of a laid brick. Empty where the layout seats another number of cells than the pack has.
pub fn solid(laid: &Laid<'_>) -> Solid {
    let grid = &laid.grid;
    let at_mm = laid.layout.at_mm;
    let along = grid.axes[2].index();
    let place_mm = laid.place.map(|p| space_mm(&p.space));
    let mut found = Solid { cells: vec![], strips: vec![], place_mm, layers_along: along };
    if !laid.suits() {
        return found;
    }
    let fill = |node: usize| ramp(node as f64 / laid.series as f64);
    let mut size_mm = [0.0; 3];
    grid.axes.into_iter().zip(grid.cell_mm).for_each(|(axis, mm)| size_mm[axis.index()] = mm);
    for (k, seat) in laid.layout.cells.iter().enumerate() {
        let group = k / laid.parallel;
        let (minus, plus) = (fill(group), fill(group + 1));
        let (top_fill, bottom_fill) = if seat.plus_up { (plus, minus) } else { (minus, plus) };
        found.cells.push(CellBody {
            label: label(group, k % laid.parallel),
            layer: seat.layer,
            middle_mm: grid.middle_in_mm(Site::from(seat), at_mm),
            size_mm,
            axis: along,
            round: grid.form == Form::Round,
            top_fill,
            bottom_fill,
            plus_up: seat.plus_up,
        });
    }
    let width_mm = laid.strip_width_mm();
    for piece in laid.pieces() {
        for line in &piece.lines {
            let spot = |site: Site| {
                let [column_mm, row_mm] = terminal_mm(grid, site, piece.end);
                let [middle_column_mm, middle_row_mm] = grid.middle_mm(site);
                let mut spot = grid.middle_in_mm(site, at_mm);
                spot[grid.axes[0].index()] += column_mm - middle_column_mm;
                spot[grid.axes[1].index()] += row_mm - middle_row_mm;
                // Flat cells have both terminals at their top.
                let up = grid.form == Form::Flat || piece.end == End::Top;
                spot[along] += if up { grid.cell_mm[2] / 2.0 } else { -grid.cell_mm[2] / 2.0 };
                spot
            };
            found.strips.push(StripBody {
                node: piece.node,
                layer: piece.layer,
                from_mm: spot(line.sites[0]),
                to_mm: spot(line.sites[line.sites.len() - 1]),
                axis: along,
                width_mm,
            });
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Plan;

    fn demo(name: &str) -> Plan {
        let path = format!("{}/../demo/plans/{name}.brick.json", env!("CARGO_MANIFEST_DIR"));
        Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap()
    }

    /// Bodies lie inside the compartment, do not run into one another, and every strip ends on ends of cells.
    #[test]
    fn bodies_stand_where_the_brick_does() {
        for name in ["hedge-shears", "bait-boat", "star-tracker-mount"] {
            let plan = demo(name);
            let laid = Laid::of(&plan).unwrap();
            let solid = solid(&laid);
            let place_mm = solid.place_mm.unwrap();
            assert_eq!(solid.cells.len(), laid.layout.cells.len());
            for (k, a) in solid.cells.iter().enumerate() {
                for (i, wall_mm) in place_mm.iter().enumerate() {
                    let (low, high) = (a.middle_mm[i] - a.size_mm[i] / 2.0, a.middle_mm[i] + a.size_mm[i] / 2.0);
                    assert!(low >= 0.0 && high <= wall_mm + 1e-9, "{name} {}: {low} to {high}", a.label);
                }
                for b in &solid.cells[..k] {
                    let apart = |i: usize| (a.middle_mm[i] - b.middle_mm[i]).abs();
                    let aside = (0..3).filter(|&i| i != a.axis).map(|i| apart(i).powi(2)).sum::<f64>().sqrt();
                    let width_mm = a.size_mm[(a.axis + 1) % 3];
                    assert!(
                        aside >= width_mm - 1e-9 || apart(a.axis) >= a.size_mm[a.axis] - 1e-9,
                        "{name}: {} in {}",
                        a.label,
                        b.label
                    );
                }
            }
            for strip in &solid.strips {
                for spot in [strip.from_mm, strip.to_mm] {
                    let on = solid.cells.iter().any(|c| {
                        (0..3).all(|i| {
                            let reach = if i == c.axis { c.size_mm[i] / 2.0 } else { 0.0 };
                            ((spot[i] - c.middle_mm[i]).abs() - reach).abs() < 1e-6
                        })
                    });
                    assert!(on, "{name}: a strip ends at {spot:?}");
                }
            }
        }
    }
}
