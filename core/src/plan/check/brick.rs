//! What must hold in the brick of a pack, whatever the counts of the pack: those are a rule's.

use std::collections::HashSet;

use super::{CELLS_MAX, Checker};
use crate::base::range;
use crate::plan::{Brick, Lattice, Layout};

/// Most sites of a lattice: ten times as many as cells.
const SITES_MAX: u32 = 4000;

pub(super) fn check_brick(c: &mut Checker, at: &str, brick: &Brick) {
    let room = &brick.clearances;
    let clearances_mm = [
        ("gap_mm", room.gap_mm),
        ("ends_mm", room.ends_mm),
        ("between_layers_mm", room.between_layers_mm),
        ("wrap_mm", room.wrap_mm),
        ("padding_mm", room.padding_mm),
        ("shell_mm", room.shell_mm),
        ("wires_mm", room.wires_mm),
    ];
    for (name, clearance_mm) in clearances_mm {
        c.number(&format!("{at}/clearances/{name}"), Some(clearance_mm), &range::CLEARANCE);
    }
    c.number(&format!("{at}/clearances/swelling_share"), Some(room.swelling_share), &range::SWELLING);
    if let Some(board) = &room.board {
        let sizes_mm =
            [("length_mm", board.length_mm), ("width_mm", board.width_mm), ("thickness_mm", board.thickness_mm)];
        for (name, size_mm) in sizes_mm {
            c.number(&format!("{at}/clearances/board/{name}"), Some(size_mm), &range::SIZE);
        }
    }
    let holder = &brick.holder;
    c.number(&format!("{at}/holder/clearance_mm"), Some(holder.clearance_mm), &range::HOLDER_CLEARANCE);
    for (name, size_mm) in [("wall_mm", holder.wall_mm), ("floor_mm", holder.floor_mm)] {
        c.number(&format!("{at}/holder/{name}"), Some(size_mm), &range::HOLDER_WALL);
    }
    c.number(&format!("{at}/holder/lip_mm"), Some(holder.lip_mm), &range::HOLDER_LIP);
    c.number(&format!("{at}/holder/height_mm"), Some(holder.height_mm), &range::HOLDER_HEIGHT);
    c.require(holder.floor_mm < holder.height_mm, &format!("{at}/holder/floor_mm"), || {
        format!("the lip ({} mm) must be thinner than the holder is high ({} mm)", holder.floor_mm, holder.height_mm)
    });
    if let Some(layout) = &brick.layout {
        check_layout(c, &format!("{at}/layout"), layout);
    }
}

fn check_layout(c: &mut Checker, at: &str, layout: &Layout) {
    let counts = [("columns", layout.columns), ("rows", layout.rows), ("layers", layout.layers)];
    for (name, count) in counts {
        c.number(&format!("{at}/{name}"), Some(f64::from(count)), &range::LATTICE);
    }
    let sites = counts.iter().fold(1_u32, |product, (_, count)| product.saturating_mul(*count));
    c.require(sites <= SITES_MAX, &format!("{at}/columns"), || {
        format!("{sites} sites are more than the {SITES_MAX} a lattice may have")
    });
    c.require(layout.axis != layout.columns_along, &format!("{at}/columns_along"), || {
        "columns run across the cells: choose a direction other than theirs".to_owned()
    });
    for (k, at_mm) in layout.at_mm.into_iter().enumerate() {
        c.number(&format!("{at}/at_mm/{k}"), Some(at_mm), &range::LATTICE_PLACE);
    }
    c.at_most(&format!("{at}/cells"), layout.cells.len(), CELLS_MAX as usize);
    let mut taken = HashSet::new();
    for (k, seat) in layout.cells.iter().enumerate() {
        for ((name, count), place) in counts.into_iter().zip([seat.column, seat.row, seat.layer]) {
            let name = name.trim_end_matches('s');
            c.require(place < count, &format!("{at}/cells/{k}/{name}"), || {
                format!("{place} is outside the lattice: 0 to {}", count.saturating_sub(1))
            });
        }
        let missing =
            layout.lattice == Lattice::StaggeredShort && seat.row % 2 == 1 && seat.column + 1 >= layout.columns;
        c.require(!missing, &format!("{at}/cells/{k}/column"), || {
            format!("every other row is one cell shorter: there is no column {} in row {}", seat.column, seat.row)
        });
        c.require(taken.insert((seat.column, seat.row, seat.layer)), &format!("{at}/cells/{k}"), || {
            "two cells sit on one site".to_owned()
        });
    }
}
